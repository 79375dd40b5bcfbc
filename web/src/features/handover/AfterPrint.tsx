import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { RackView } from "../../api/generated/RackView";
import { useLoad, useLoading } from "../../api/loading";
import { useRack } from "../../api/queries";
import { useRuns } from "../../api/runs";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { HowItWent } from "./HowItWent";
import { PrintedRun } from "./PrintedRun";

/** What comes after a print: its grams come off the spools, how long it took and how it went are kept, and the plan may learn from it. */
export function AfterPrint({ job, planned, planned_s }: { job: JobView; planned: number; planned_s: number }) {
  const runs = useRuns(job.id).data ?? [];
  const load = useLoad(job.id, job.revision, planned).data;
  const rack = useRack().data;
  const [isOpen, setOpen] = useState(false);
  return (
    <section aria-label="After the print" className="mt-6">
      <div className="flex items-baseline justify-between border-b border-line pb-1.5">
        <h2 className="heading">After the print</h2>
        {!isOpen && load && rack && (
          <Button kind="link" onClick={() => setOpen(true)}>
            {runs.length === 0 ? "It is printed" : "It is printed once more"}
          </Button>
        )}
      </div>
      {isOpen && load && rack && <NoteRun job={job} rack={rack} run={load.runs + 1} planned_s={planned_s} close={() => setOpen(false)} />}
      {runs.length === 0 && !isOpen && (
        <p className="py-2 text-[12.5px] text-soft">
          Its grams come off the spools, and how long it took, a note and a photo stay with the job.
        </p>
      )}
      <ul>
        {runs.map((r) => (
          <PrintedRun key={r.run} job={job} run={r} now_s={planned_s} />
        ))}
      </ul>
    </section>
  );
}

/** Notes a run: what it really took of each spool, how long it took, how it went. */
function NoteRun({
  job,
  rack,
  run,
  planned_s,
  close,
}: {
  job: JobView;
  rack: RackView;
  run: number;
  planned_s: number;
  close: () => void;
}) {
  const { printed } = useLoading(job.id);
  const [grams, setGrams] = useState<Record<string, number>>({});
  const uses = rack.uses.filter((u) => u.job === job.name && u.printed_at_s === null);
  return (
    <HowItWent
      about={{ took_s: planned_s > 0 ? Math.round(planned_s / 60) * 60 : null, note: "" }}
      says="Take it off the spools"
      isBusy={printed.isPending}
      onCancel={close}
      onSay={(about) => printed.mutate({ run, grams, about }, { onSuccess: close })}
    >
      {uses.map((u) => (
        <div key={u.spool} className="flex items-center justify-between gap-3 py-1">
          <span className="truncate">{rack.spools.find((s) => s.id === u.spool)?.name ?? u.spool}</span>
          <NumberField
            label={`Really taken of ${rack.spools.find((s) => s.id === u.spool)?.name ?? u.spool}`}
            value={grams[u.spool] ?? u.grams ?? 0}
            unit="g"
            digits={1}
            onCommit={(g) => setGrams({ ...grams, [u.spool]: Math.max(g, 0) })}
          />
        </div>
      ))}
    </HowItWent>
  );
}
