import { useState } from "react";
import type { Difference } from "../../api/generated/Difference";
import type { JobView } from "../../api/generated/JobView";
import type { KeptFileView } from "../../api/generated/KeptFileView";
import { useKeeping } from "../../api/sliced";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { counted } from "../../ui/format";
import { SlotSelect } from "./SlotSelect";

/** What would be made of a file for this printer, in words. */
function becomes(job: JobView, changesItself: boolean, pauses: number): string {
  const profile = job.machine;
  if (profile.splices) return changesItself ? "Its tools become lengths of one strand." : "It is for one strand already.";
  if (profile.is_by_hand && changesItself) return "Each call of a tool becomes a pause that says what is put in.";
  if (profile.is_by_hand)
    return pauses > 0 ? "Its pauses say which spool is put in." : "A change is put in where you ask for one, with a pause.";
  return changesItself ? "Its tools get the numbers of the slots that stand for them." : "A change is put in where you ask for one.";
}

/** Has a file made for this printer of this one; everything that is not named stays as it is, line by line. */
export function RewriteForm({ job, view, layer, hasPlan }: { job: JobView; view: KeptFileView; layer: number; hasPlan: boolean }) {
  const { rewrite } = useKeeping(job.id);
  const [changes, setChanges] = useState<{ layer: number; slot: number }[]>([]);
  const [hasPurge, setPurge] = useState(false);
  const [isAsPlanned, setAsPlanned] = useState(false);
  const [isWorking, setWorking] = useState(false);
  const [made, setMade] = useState<{ file: number; differences: Difference[]; all: number } | null>(null);
  const { report, file } = view;
  const changesItself = report.changes.some((c) => !c.is_by_hand);
  const isPlain = report.changes.length === 0 && report.pauses.length === 0;
  const work = async () => {
    setWorking(true);
    const found = await rewrite({ files: [file.id], slots: [], changes, as_planned: isAsPlanned, purge: hasPurge });
    setWorking(false);
    if (found) setMade({ file: found.file.id, differences: found.differences, all: found.file.made?.differences ?? 0 });
  };
  return (
    <section aria-label="Have it rewritten" className="pt-4">
      <h2 className="heading">Have it rewritten for {job.printer.name}</h2>
      <p className="py-1.5 text-[12.5px] text-soft">{becomes(job, changesItself, report.pauses.length)} Every other line stays as it is.</p>
      <ul aria-label="Changes put in">
        {changes.map((c, i) => (
          <li key={i} className="flex items-center justify-between border-b border-line py-1">
            <span className="figure">
              from layer {c.layer + 1} on: {c.slot} · {job.slots[c.slot - 1]?.spool?.name ?? "no spool"}
            </span>
            <Button kind="link" onClick={() => setChanges(changes.filter((_, j) => j !== i))} aria-label={`Leave out change ${i + 1}`}>
              Leave out
            </Button>
          </li>
        ))}
      </ul>
      <div className="flex items-center justify-between gap-3 py-1.5">
        <span>
          From layer <span className="figure">{layer + 1}</span> on
        </span>
        <SlotSelect
          job={job}
          label="Slot from this layer on"
          value={null}
          onChange={(slot) => setChanges([...changes.filter((c) => c.layer !== layer), { layer, slot }].sort((a, b) => a.layer - b.layer))}
        />
      </div>
      <label className="flex items-center gap-2 py-1">
        <input type="checkbox" checked={hasPurge} onChange={(e) => setPurge(e.target.checked)} className="accent-plum" />
        Press out what this printer needs for a clean colour
      </label>
      {isPlain && hasPlan && (
        <label className="flex items-center gap-2 py-1">
          <input type="checkbox" checked={isAsPlanned} onChange={(e) => setAsPlanned(e.target.checked)} className="accent-plum" />
          Change colours where the plan does
        </label>
      )}
      <Button kind="main" className="mt-1.5" disabled={isWorking} onClick={() => void work()}>
        {isWorking ? "Rewriting" : "Rewrite"}
      </Button>
      {made && (
        <div className="mt-3" role="status" ref={(shown) => shown?.scrollIntoView({ block: "nearest" })}>
          <p className="flex items-baseline justify-between">
            <b>{made.all === 0 ? "Nothing had to change" : `${counted(made.all, "place")} changed`}</b>
            <Button kind="link" onClick={() => go(`/jobs/${job.id}/sliced/${made.file}`)}>
              Open what was made
            </Button>
          </p>
          <ol className="mt-1 max-h-56 overflow-y-auto border border-line bg-paper px-2 py-1 text-[11.5px]" aria-label="Differences">
            {made.differences.map((d, i) => (
              <li key={i} className="border-b border-line py-1 last:border-0">
                <p className="text-soft">
                  line {d.line}: {d.why}
                </p>
                {d.was !== null && <pre className="figure overflow-hidden text-ellipsis text-wrong">− {d.was}</pre>}
                {d.now.slice(0, 12).map((line, j) => (
                  <pre key={j} className="figure overflow-hidden text-ellipsis text-fine">
                    + {line}
                  </pre>
                ))}
                {d.now.length > 12 && <p className="text-soft">and {d.now.length - 12} more lines</p>}
              </li>
            ))}
          </ol>
        </div>
      )}
    </section>
  );
}
