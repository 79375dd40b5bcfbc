import type { JobView } from "../../api/generated/JobView";
import type { RackView } from "../../api/generated/RackView";
import { useLoading } from "../../api/loading";
import { Button } from "../../ui/Button";
import { grams } from "../../ui/format";

const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });

/** What jobs took from the spools or will take. */
export function Ledger({ job, rack }: { job: JobView; rack: RackView }) {
  const { printed } = useLoading(job.id);
  // This job first: what it will use, and what it used.
  const uses = [...rack.uses.filter((u) => u.job === job.name), ...rack.uses.filter((u) => u.job !== job.name)];
  const name = (id: string) => rack.spools.find((s) => s.id === id)?.name ?? id;
  return (
    <div className="py-2">
      <div className="flex items-center justify-between gap-4 pb-2">
        <p className="text-soft">When this job is printed, its grams come off the spools.</p>
        <Button disabled={printed.isPending} onClick={() => printed.mutate()}>It is printed: take it off</Button>
      </div>
      <table className="w-full" aria-label="Ledger">
        <tbody>
          {uses.map((u, i) => (
            <tr key={i} className="border-t border-line">
              <td className="max-w-56 truncate py-1.5 font-medium">{name(u.spool)}</td>
              <td className="max-w-56 truncate">{u.job}</td>
              <td className="figure text-right">{u.grams === null ? "not planned" : grams(u.grams)}</td>
              <td className="w-32 pl-6 text-soft">{u.printed_at_s === null ? "will use" : `used ${day.format(new Date(1000 * u.printed_at_s))}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rack.uses.length === 0 && <p className="py-3 text-soft">No job has a spool loaded.</p>}
    </div>
  );
}
