import type { JobView } from "../../api/generated/JobView";
import type { LoadView } from "../../api/generated/LoadView";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { fixed } from "../../ui/format";
import { Swatch } from "../../ui/Swatch";

/** What each region becomes on a machine that prints greys. */
export function Greys({ job, load }: { job: JobView; load: LoadView | undefined }) {
  const toggle = useBench((s) => s.toggle);
  const isOn = useBench((s) => s.looks.grey);
  const show = () => {
    if (!isOn) toggle("grey");
    go(`/jobs/${job.id}/colour`);
  };
  return (
    <div className="py-2">
      <table className="w-full" aria-label="Regions as greys">
        <thead>
          <tr className="text-left text-[12px] text-soft">
            <th className="py-1 font-medium">Region</th>
            <th className="font-medium">Colour</th>
            <th className="font-medium">Grey</th>
            <th className="text-right font-medium">Lightness</th>
            <th className="pl-6 font-medium">Falls together with</th>
          </tr>
        </thead>
        <tbody>
          {load?.greys.map((g) => {
            const region = job.regions.find((r) => r.key === g.region);
            return (
              <tr key={g.region} className="border-t border-line">
                <td className="max-w-44 truncate py-1.5 font-medium">{region?.name}</td>
                <td>
                  <Swatch colour={region?.colour ?? "#000000"} size={20} />
                </td>
                <td>
                  <span className="flex items-center gap-2">
                    <Swatch colour={g.grey} size={20} />
                    <span className="figure text-soft">{g.grey}</span>
                  </span>
                </td>
                <td className="figure text-right">{fixed(g.lightness, 1)} %</td>
                <td className={`pl-6 ${g.like.length > 0 ? "text-look" : "text-faint"}`}>
                  {g.like.length > 0 ? `! ${g.like.join(", ")}` : "nothing"}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button className="mt-3" onClick={show}>
        See it on the bench
      </Button>
    </div>
  );
}
