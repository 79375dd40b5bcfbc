import { api } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import { outputs } from "../../api/generated/outputs";
import { usePlan } from "../../api/queries";
import { useRelease } from "../../api/release";
import { go } from "../../state/route";
import { DropZone } from "../arrival/DropZone";
import { KeptFiles } from "../sliced/KeptFiles";
import { AfterPrint } from "./AfterPrint";
import { useTakePrints } from "../sliced/useTakePrints";
import { BodiesRow } from "./BodiesRow";
import { useMoves } from "../../api/moves";
import { useBeadView } from "../../state/beadView";
import { useLatestPlan } from "../score/useLatestPlan";
import { SettingsDrawer } from "../settings/SettingsDrawer";
import { BeadsAside } from "./BeadsAside";
import { BeforeItGoes } from "./BeforeItGoes";
import { OutputRow } from "./OutputRow";
import { PrintRows } from "./PrintRows";
import { Download } from "./Download";
import { Button } from "../../ui/Button";
import { counted, duration, grams } from "../../ui/format";

/** Those that stand in rows of their own accord; print files come before them. */
const listed = Object.values(outputs).filter((o) => o.isListed && o !== outputs.print && o !== outputs["print-zip"]);

/** The files of a job, each with what it carries and what it loses. */
export function HandoverStage({ job }: { job: JobView }) {
  const plan = usePlan(job.id).data;
  const latest = useLatestPlan(plan);
  const bill = plan?.state === "ready" ? plan.plan.bill : null;
  const revision = plan?.state === "ready" ? plan.revision : undefined;
  const moves = useMoves(job.id, revision, true).data;
  const isReady = moves?.state === "ready" && !moves.problem && moves.revision === revision;
  const release = useRelease(job.id, job.revision, `${plan?.state} ${moves?.state} ${moves?.revision}`).data;
  // A job that was made for a print file has that in the first place.
  const isEmpty = job.models.length === 0;
  const whole_s = (isReady ? moves.figures.find((f) => f.of === "time")?.moves : undefined) ?? bill?.time_s ?? 0;
  const isDrawerOpen = useBeadView((s) => s.isDrawerOpen);
  const take = useTakePrints(job.id);
  const { jets } = job.machine;
  return (
    <DropZone what="Drop a print file to set it against this job" onFiles={(files) => void take(files)}>
      <div className={`grid h-full grid-rows-1 ${jets ? "grid-cols-[322px_minmax(0,760px)]" : "grid-cols-[322px_minmax(0,1fr)_394px]"}`}>
        <BeforeItGoes job={job} release={release} cautions={plan?.state === "ready" ? plan.plan.cautions : []} />
        {isDrawerOpen && <SettingsDrawer job={job} className="mx-auto min-h-0 w-full max-w-[560px] border-x" />}
        <div className={`min-h-0 overflow-y-auto px-6 py-5 ${isDrawerOpen ? "hidden" : ""}`}>
          <div className="mb-4 flex items-baseline justify-between gap-4">
            <h2 className="text-lg">Take it to the printer</h2>
            <span className="figure truncate text-soft">
              {jets
                ? "the machine makes its moves itself"
                : bill
                  ? `${duration(whole_s)} · ${counted(bill.swaps, "swap")} · ${grams(bill.model_g + bill.purge_g + bill.tower_g)} in all`
                  : "the plan is being worked out"}
            </span>
          </div>
          {isEmpty && <KeptFiles job={job} />}
          {!jets && <PrintRows job={job} moves={moves} isReady={isReady} />}
          <section aria-label="For programs and people" className="mt-6">
            <h2 className="heading border-b border-line pb-1.5">For programs and people</h2>
            <ul>
              {listed
                .filter((o) => !jets || !o.needsPlan)
                .flatMap((o) => {
                  const isThere = !o.needsPlan || bill !== null;
                  const row = (
                    <OutputRow key={o.file} name={o.name} carries={o.carries} loses={o.loses}>
                      {isThere ? <Download href={api.fileUrl(job.id, o.file)} name={o.name} /> : <span className="text-soft">waiting</span>}
                    </OutputRow>
                  );
                  // The bodies stand below the model they are an alternative to.
                  return o.file === outputs.model.file ? [row, <BodiesRow key="bodies" job={job} />] : [row];
                })}
              {!jets && (
                <OutputRow
                  name="Run sheet"
                  carries="What to load where, every swap in order with its height, and the grams: for the person at the machine."
                >
                  <Button onClick={() => go(`/jobs/${job.id}/run-sheet`)} className="text-plum">
                    Open
                  </Button>
                </OutputRow>
              )}
            </ul>
          </section>
          {!isEmpty && <KeptFiles job={job} />}
          {!isEmpty && !jets && plan?.state === "ready" && <AfterPrint job={job} planned={plan.revision} planned_s={whole_s} />}
        </div>
        {jets ? null : latest ? (
          <BeadsAside job={job} plan={latest} moves={moves} isReady={isReady} />
        ) : (
          <aside className="border-l border-line bg-sheet" aria-label="Beads as they will lie" />
        )}
      </div>
    </DropZone>
  );
}
