import { useRef, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import { useKeeping, useKeptFiles } from "../../api/sliced";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { fileSize } from "../../ui/format";
import { SlotSelect } from "./SlotSelect";
import { useTakePrints } from "./useTakePrints";

/** Endings that print files have; the content decides in the end. */
export const printEndings = ".gcode,.gco,.g,.nc,.ngc,.txt";

/** Print files from elsewhere that are kept with the job: opened, and several of one colour joined. */
export function KeptFiles({ job }: { job: JobView }) {
  const files = useKeptFiles(job.id).data ?? [];
  const { rewrite } = useKeeping(job.id);
  const picker = useRef<HTMLInputElement>(null);
  /** Those that are to be joined, in order, with the slot of each. */
  const [passes, setPasses] = useState<{ file: number; slot: number }[]>([]);
  const [isWorking, setWorking] = useState(false);
  const take = useTakePrints(job.id);
  const chosen = passes.filter((p) => files.some((f) => f.id === p.file));
  const join = async () => {
    setWorking(true);
    const made = await rewrite({
      files: chosen.map((p) => p.file),
      slots: chosen.map((p) => p.slot),
      changes: [],
      as_planned: false,
      purge: false,
    });
    setWorking(false);
    if (made) go(`/jobs/${job.id}/sliced/${made.file.id}`);
  };
  return (
    <section aria-label="Print files from elsewhere" className="mt-6">
      <div className="flex items-baseline justify-between border-b border-line pb-1.5">
        <h2 className="heading">Print files from elsewhere</h2>
        <Button kind="link" onClick={() => picker.current?.click()}>
          Open a print file
        </Button>
        <input
          ref={picker}
          type="file"
          accept={printEndings}
          multiple
          hidden
          aria-label="Print file"
          onChange={(e) => {
            void take([...(e.target.files ?? [])]);
            e.target.value = "";
          }}
        />
      </div>
      {files.length === 0 && (
        <p className="py-2 text-[12.5px] text-soft">
          A file that another program sliced is read without believing its comments, set against this plan, and put right for this printer.
        </p>
      )}
      <ul>
        {files.map((f) => {
          const at = chosen.findIndex((p) => p.file === f.id);
          return (
            <li key={f.id} className="flex items-center justify-between gap-3 border-b border-line py-2">
              <label className="flex min-w-0 items-center gap-2.5">
                <input
                  type="checkbox"
                  className="accent-plum"
                  aria-label={`Join ${f.name}`}
                  checked={at >= 0}
                  onChange={(e) =>
                    setPasses(
                      e.target.checked
                        ? [...chosen, { file: f.id, slot: Math.min(chosen.length + 1, job.slots.length) }]
                        : chosen.filter((p) => p.file !== f.id),
                    )
                  }
                />
                <span className="min-w-0">
                  <span className="block truncate font-semibold" title={f.name}>
                    {f.name}
                  </span>
                  <span className="figure block truncate text-[12.5px] text-soft">
                    {fileSize(f.bytes)}
                    {f.made && ` · made of ${f.made.of.join(", ")}`}
                    {at >= 0 && chosen.length > 1 && ` · pass ${at + 1}`}
                  </span>
                </span>
              </label>
              <span className="flex shrink-0 items-center gap-2">
                {at >= 0 && chosen.length > 1 && (
                  <SlotSelect
                    job={job}
                    label={`Slot of pass ${at + 1}`}
                    value={chosen[at]?.slot ?? null}
                    onChange={(slot) => setPasses(chosen.map((p) => (p.file === f.id ? { ...p, slot } : p)))}
                  />
                )}
                <Button className="text-plum" onClick={() => go(`/jobs/${job.id}/sliced/${f.id}`)} aria-label={`Open ${f.name}`}>
                  Open
                </Button>
              </span>
            </li>
          );
        })}
      </ul>
      {chosen.length > 1 && (
        <div className="flex items-center justify-between gap-3 py-2.5">
          <span className="text-[12.5px] text-soft">
            One after the other over what stands, in the order in which they were ticked; refused where the nozzle would meet it.
          </span>
          <Button kind="main" className="shrink-0" disabled={isWorking} onClick={() => void join()}>
            Join {chosen.length} passes
          </Button>
        </div>
      )}
    </section>
  );
}
