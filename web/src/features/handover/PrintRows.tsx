import { api } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import { outputs } from "../../api/generated/outputs";
import type { MovesView } from "../../api/generated/MovesView";
import { counted, duration, fileSize } from "../../ui/format";
import { Hanging, MovesState } from "../beads/MovesTable";
import { SettingsButton } from "../settings/SettingsDrawer";
import { AtThePrinter, SendButton } from "./AtThePrinter";
import { Download } from "./Download";

/** The files for the machine, with what they carry, how long they take and how big they are. */
export function PrintRows({ job, moves, isReady }: { job: JobView; moves: MovesView | undefined; isReady: boolean }) {
  const files = isReady ? (moves?.files ?? []) : [];
  const [only] = files;
  const several = files.length > 1;
  return (
    <section aria-label="For the machine">
      <div className="flex items-baseline justify-between border-b border-line pb-1.5">
        <h2 className="heading">For the machine</h2>
        <SettingsButton />
      </div>
      {!isReady && (
        <div className="border-b border-line py-3">
          <MovesState id={job.id} moves={moves} />
        </div>
      )}
      {isReady && moves && <Hanging moves={moves} />}
      {isReady && <AtThePrinter job={job} files={files} />}
      {files.map((f, number) => (
        <div key={f.name} className="flex items-center justify-between gap-4 border-b border-line py-2.5">
          <div className="min-w-0">
            <p className="truncate font-semibold" title={f.name}>
              {f.name}
            </p>
            <p className="text-[12.5px] text-soft">
              {several
                ? `pass of slot ${f.slot}, ${job.slots[(f.slot ?? 1) - 1]?.spool?.name ?? ""}`
                : "order, purge, tower and prompts as planned"}
            </p>
            <p className="figure text-[12.5px] text-soft">
              {duration(f.seconds)} · {fileSize(f.bytes)} · {counted(f.moves, "move")}
            </p>
          </div>
          <div className="flex shrink-0 gap-2">
            {!several && <Download href={api.fileUrl(job.id, outputs.print.file)} name={outputs.print.name} />}
            <SendButton job={job} which={{ file: number }} />
          </div>
        </div>
      ))}
      {only && (
        <div className="flex items-center justify-between gap-4 border-b border-line py-2.5">
          <div className="min-w-0">
            <p className="font-semibold">{outputs["print-zip"].name}</p>
            <p className="text-[12.5px] text-soft">{outputs["print-zip"].carries}</p>
          </div>
          <Download href={api.fileUrl(job.id, outputs["print-zip"].file)} name={outputs["print-zip"].name} />
        </div>
      )}
    </section>
  );
}
