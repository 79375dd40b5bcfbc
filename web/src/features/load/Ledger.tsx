import { AlertDialog } from "radix-ui";
import type { JobView } from "../../api/generated/JobView";
import type { LoadView } from "../../api/generated/LoadView";
import type { RackView } from "../../api/generated/RackView";
import type { SpoolUse } from "../../api/generated/SpoolUse";
import { useLoading } from "../../api/loading";
import { Button } from "../../ui/Button";
import { day, grams } from "../../ui/format";

/** What jobs took from the spools or will take. */
export function Ledger({ job, rack, load }: { job: JobView; rack: RackView; load: LoadView | undefined }) {
  const { notPrinted } = useLoading(job.id);
  // This job first: what it will use, and what it used.
  const uses = [...rack.uses.filter((u) => u.job === job.name), ...rack.uses.filter((u) => u.job !== job.name)];
  const name = (id: string) => rack.spools.find((s) => s.id === id)?.name ?? id;
  /** A run is taken back as a whole, from its first line. */
  const isFirst = (u: SpoolUse, i: number) =>
    u.run !== null && uses.findIndex((o) => o.run?.job === u.run?.job && o.run?.run === u.run?.run) === i;
  return (
    <div className="py-2">
      <div className="flex items-center justify-between gap-4 pb-2">
        <p className="text-soft">When this job is printed, its grams come off the spools.</p>
        {load && (
          <Printed job={job} run={load.runs + 1} uses={uses.filter((u) => u.job === job.name && u.printed_at_s === null)} name={name} />
        )}
      </div>
      <table className="w-full" aria-label="Ledger">
        <tbody>
          {uses.map((u, i) => (
            <tr key={i} className="border-t border-line">
              <td className="max-w-56 truncate py-1.5 font-medium">{name(u.spool)}</td>
              <td className="max-w-56 truncate">{u.job}</td>
              <td className="figure text-right">{u.grams === null ? "not planned" : grams(u.grams)}</td>
              <td className="w-32 pl-6 text-soft">{u.printed_at_s === null ? "will use" : `used ${day(u.printed_at_s)}`}</td>
              <td className="w-28 text-right">
                {u.run && isFirst(u, i) && (
                  <Button
                    kind="link"
                    disabled={notPrinted.isPending}
                    title="Puts the grams of this run back on the spools"
                    onClick={() => u.run && notPrinted.mutate(u.run)}
                  >
                    Take it back
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rack.uses.length === 0 && <p className="py-3 text-soft">No job has a spool loaded.</p>}
    </div>
  );
}

/** Notes a run as printed, once asked. */
function Printed({ job, run, uses, name }: { job: JobView; run: number; uses: SpoolUse[]; name: (id: string) => string }) {
  const { printed } = useLoading(job.id);
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger asChild>
        <Button disabled={printed.isPending}>It is printed: take it off</Button>
      </AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <AlertDialog.Content className="fixed left-1/2 top-1/3 z-50 w-96 -translate-x-1/2 border border-line bg-sheet p-5 shadow-lg">
          <AlertDialog.Title className="font-semibold">
            {run === 1 ? "Is it printed?" : `Is it printed once more, for the ${run}. time?`}
          </AlertDialog.Title>
          <AlertDialog.Description className="mt-1 text-soft">
            {uses.map((u) => `${u.grams === null ? "some" : grams(u.grams)} of ${name(u.spool)}`).join(", ")}{" "}
            {uses.length === 1 ? "comes" : "come"} off the rack. It can be taken back here.
          </AlertDialog.Description>
          <div className="mt-4 flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>Not yet</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button kind="main" onClick={() => printed.mutate({ run })}>
                Take it off
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
