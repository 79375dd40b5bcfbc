import type { FlatView } from "../../../api/generated/FlatView";
import type { InkTaker } from "../../../api/generated/InkTaker";
import type { JobView } from "../../../api/generated/JobView";
import { useLaying } from "../../../state/laying";
import { Select } from "../../../ui/Select";
import { Reading } from "./Reading";
import type { Lay } from "./useLay";

const valueOf = (taker: InkTaker) => (taker.to === "region" ? `region ${taker.region}` : taker.to);

function takerOf(value: string): InkTaker {
  if (value === "nobody") return { to: "nobody" };
  return value.startsWith("region ") ? { to: "region", region: value.slice(7) } : { to: "new" };
}

/** The colours of what is laid, and who gets each. */
export function InkTakers({ job, flat, lay }: { job: JobView; flat: FlatView; lay: Lay }) {
  const { takers, what } = useLaying();
  const options_of = [
    { value: "new", label: "a new region" },
    ...job.regions.map((r) => ({ value: `region ${r.key}`, label: r.name })),
    { value: "nobody", label: "leave as it is" },
  ];
  const say = (at: number, value: string) => {
    const all = flat.inks.map((_, i) => takers[i] ?? { to: "new" as const });
    all[at] = takerOf(value);
    lay.change({ takers: all });
  };
  return (
    <div className="flex flex-col gap-1">
      {what === "file" && <Reading job={job} flat={flat} lay={lay} />}
      {flat.inks.map((ink, i) => (
        <div key={i} className="flex items-center gap-2">
          <span className="h-3.5 w-3.5 shrink-0 rounded-[2px] border border-line" style={{ background: ink.colour }} aria-hidden />
          <span className="min-w-0 flex-1 truncate" title={ink.name}>
            {ink.name}
          </span>
          <Select
            label={`Who gets ${ink.name}`}
            value={valueOf(takers[i] ?? { to: "new" })}
            options={options_of}
            className="h-6 w-[112px] px-1.5! py-0!"
            onChange={(value) => say(i, value)}
          />
        </div>
      ))}
    </div>
  );
}
