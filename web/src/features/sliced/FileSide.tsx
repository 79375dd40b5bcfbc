import { api } from "../../api/client";
import type { FileFinding } from "../../api/generated/FileFinding";
import type { FileReport } from "../../api/generated/FileReport";
import type { JobView } from "../../api/generated/JobView";
import type { KeptFileView } from "../../api/generated/KeptFileView";
import { useKeeping } from "../../api/sliced";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { count, counted, duration, fileSize, grams } from "../../ui/format";
import { LevelMark } from "../../ui/LevelMark";
import { AtThePrinter, SendButton } from "../handover/AtThePrinter";
import { RewriteForm } from "./RewriteForm";
import { WhatStandsFor } from "./WhatStandsFor";

/** What is to be said of a print file, what it comes to, and what can be made of it. */
export function FileSide({ job, view, layer, hasPlan }: { job: JobView; view: KeptFileView; layer: number; hasPlan: boolean }) {
  const { file, report } = view;
  const { forget } = useKeeping(job.id);
  const wrong = report.findings.filter((f) => f.level === "wrong").length;
  return (
    <aside className="flex min-h-0 flex-col overflow-y-auto border-l border-line bg-sheet px-4 pb-6" aria-label="The file">
      <div className="sticky top-0 z-10 -mx-4 border-b border-line bg-sheet px-4 pb-2.5 pt-3">
        <h2 className="truncate text-[15px]" title={file.name}>
          {file.name}
        </h2>
        <p className="figure text-[12.5px] text-soft">
          {fileSize(file.bytes)} · {counted(report.layers.length, "layer")} · {counted(report.changes.length, "change")}
        </p>
        <div className="mt-1.5 flex flex-wrap items-center gap-x-4 gap-y-1 whitespace-nowrap text-[12.5px] font-semibold text-plum">
          <a href={api.keptUrl(job.id, file.id, "print.gcode")} download className="hover:underline">
            Save it
          </a>
          {file.made && (
            <a href={api.keptUrl(job.id, file.id, "differences.txt")} download className="hover:underline">
              Save its differences
            </a>
          )}
          {file.made && file.made.splices.length > 0 && (
            <a href={api.keptUrl(job.id, file.id, "splices.json")} download className="hover:underline">
              Save the strand
            </a>
          )}
          <button type="button" className="hover:underline" onClick={() => go(`/jobs/${job.id}/sliced/${file.id}/rehearsal`)}>
            Rehearse it
          </button>
          <SendButton job={job} which={{ kept: file.id }} />
          <button
            type="button"
            className="ml-auto hover:underline"
            onClick={() => {
              void forget(file.id).then((is) => is && go(`/jobs/${job.id}/handover`));
            }}
          >
            Forget it
          </button>
        </div>
      </div>
      <AtThePrinter job={job} files={[{ name: view.sent_as }]} />
      {file.made && <MadeOf job={job} view={view} />}
      <section aria-label="What is to be said" className="pt-3">
        <h2 className="heading">
          Looked over<span className={wrong > 0 ? "text-wrong" : "text-fine"}> · {wrong > 0 ? `${wrong} wrong` : "nothing wrong"}</span>
        </h2>
        <ul>
          {report.findings.map((f) => (
            <Finding key={f.code + f.message} finding={f} />
          ))}
        </ul>
      </section>
      <Figures job={job} report={report} />
      <WhatStandsFor job={job} view={view} />
      {!file.made?.splices.length && <RewriteForm key={file.id} job={job} view={view} layer={layer} hasPlan={hasPlan} />}
    </aside>
  );
}

function Finding({ finding }: { finding: FileFinding }) {
  const setLayer = useBench((s) => s.setLayer);
  const { layer } = finding;
  return (
    <li className="grid grid-cols-[20px_minmax(0,1fr)_auto] gap-x-2 border-b border-line py-1.5">
      <LevelMark level={finding.level} />
      <span className="min-w-0">
        {finding.message}
        {finding.detail && <span className="block text-[12px] leading-[1.3] text-soft">{finding.detail}</span>}
      </span>
      {layer !== null && (
        <button type="button" className="self-start font-semibold text-plum hover:underline" onClick={() => setLayer(layer)}>
          Show
        </button>
      )}
    </li>
  );
}

/** What the file comes to, beside the job's plan where there is one. */
function Figures({ job, report }: { job: JobView; report: FileReport }) {
  const { planned, slots } = report;
  const sum = (of: (s: FileReport["slots"][number]) => number) => slots.reduce((all, s) => all + of(s), 0);
  const rows: [string, string, string | undefined][] = [
    ["Time", duration(report.time_s), planned ? duration(planned.time_s) : undefined],
    ["Changes", count(report.changes.length), planned ? count(planned.swaps) : undefined],
    ["Plastic", grams(sum((s) => s.grams)), planned ? grams(planned.grams) : undefined],
    ["of it after changes", grams(sum((s) => s.purge_g)), planned ? grams(planned.purge_g) : undefined],
  ];
  return (
    <section aria-label="What it comes to" className="pt-4">
      <h2 className="heading flex justify-between">
        What it comes to
        {planned && <span className="font-normal text-soft">file · plan</span>}
      </h2>
      <table className="figure w-full text-[12.5px]">
        <tbody>
          {rows.map(([what, is, wants]) => (
            <tr key={what} className="border-b border-line">
              <td className="py-1 text-left">{what}</td>
              <td className="py-1 text-right font-semibold">{is}</td>
              {planned && <td className="w-24 py-1 text-right text-soft">{wants}</td>}
            </tr>
          ))}
          {slots.map((s) => (
            <tr key={s.slot} className="border-b border-line">
              <td className="py-1 text-left">
                <span
                  className="mr-2 inline-block size-2.5 rounded-[2px] border border-black/30"
                  style={{ background: job.slots[s.slot - 1]?.colour ?? "#888888" }}
                  aria-hidden
                />
                {job.slots[s.slot - 1]?.spool?.name ?? `slot ${s.slot}`}
              </td>
              <td className="py-1 text-right">{grams(s.grams)}</td>
              {planned && <td />}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Where a file that was made here comes from. */
function MadeOf({ job, view }: { job: JobView; view: KeptFileView }) {
  const { made } = view.file;
  if (!made) return null;
  return (
    <section aria-label="Made of" className="border-b border-line py-2.5 text-[12.5px]">
      <p>
        Made of <b>{made.of.join(", ")}</b>: {counted(made.differences, "place")} changed, all else as it was.
      </p>
      {made.left.map((words) => (
        <p key={words} className="text-look">
          Left as it is: {words}
        </p>
      ))}
      {made.splices.length > 0 && (
        <>
          <p className="mt-1 text-soft">{counted(made.splices.length, "length")} of strand, from the nozzle on:</p>
          <ol className="figure mt-0.5 flex max-h-24 flex-wrap gap-x-3 overflow-y-auto" aria-label="Strand">
            {made.splices.map((s, i) => (
              <li key={i} className="flex items-center gap-1">
                <span
                  className="size-2.5 rounded-[2px] border border-black/30"
                  style={{ background: job.slots[s.slot - 1]?.colour ?? "#888888" }}
                  aria-hidden
                />
                {s.slot}: {count(s.mm)} mm
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}
