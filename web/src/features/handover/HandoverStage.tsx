import { api } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import { outputs } from "../../api/generated/outputs";
import { usePlan } from "../../api/queries";
import { Cautions } from "../plan/Cautions";
import { go } from "../../state/route";
import { BodiesRow } from "./BodiesRow";
import { useMoves } from "../../api/moves";
import { useBeadView } from "../../state/beadView";
import { useLatestPlan } from "../score/useLatestPlan";
import { SettingsDrawer } from "../settings/SettingsDrawer";
import { BeadsAside } from "./BeadsAside";
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
  const isDrawerOpen = useBeadView((s) => s.isDrawerOpen);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_394px] grid-rows-1">
      {isDrawerOpen && <SettingsDrawer job={job} className="mx-auto min-h-0 w-full max-w-[560px] border-x" />}
      <div className={`min-h-0 overflow-y-auto px-8 py-6 ${isDrawerOpen ? "hidden" : ""}`}>
        <div className="mb-4 flex items-baseline justify-between gap-4">
          <h1 className="text-lg">Take it to the printer</h1>
          <span className="figure truncate text-soft">
            {bill
              ? `${duration((isReady ? moves.figures.find((f) => f.of === "time")?.moves : undefined) ?? bill.time_s)} · ${counted(bill.swaps, "swap")} · ${grams(bill.model_g + bill.purge_g + bill.tower_g)} in all`
              : "the plan is being worked out"}
          </span>
        </div>
        {plan?.state === "ready" && <Cautions job={job} cautions={plan.plan.cautions} isFree />}
        <PrintRows job={job} moves={moves} isReady={isReady} />
        <table className="mt-6 w-full">
          <thead>
            <tr className="border-b border-line text-left">
              <th className="heading w-48 py-2 font-semibold">For programs and people</th>
              <th className="heading py-2 font-semibold">Carries</th>
              <th className="heading py-2 pl-6 font-semibold">Loses</th>
              <th className="w-28">
                <span className="sr-only">Download</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {listed.flatMap((o) => {
              const isReady = !o.needsPlan || bill !== null;
              const row = (
                <tr key={o.file} className="border-b border-line align-top">
                  <td className="py-3 font-semibold">{o.name}</td>
                  <td className="py-3">{o.carries}</td>
                  <td className="py-3 pl-6 text-soft">{o.loses}</td>
                  <td className="py-2.5 text-right">
                    {isReady ? <Download href={api.fileUrl(job.id, o.file)} name={o.name} /> : <span className="text-soft">waiting</span>}
                  </td>
                </tr>
              );
              // The bodies stand below the model they are an alternative to.
              return o.file === outputs.model.file ? [row, <BodiesRow key="bodies" job={job} />] : [row];
            })}
            <tr className="border-b border-line align-top">
              <td className="py-3 font-semibold">Run sheet</td>
              <td className="py-3">
                What to load where, every swap in order with its height, and the grams: for the person at the machine.
              </td>
              <td className="py-3 pl-6 text-soft">It is paper.</td>
              <td className="py-2.5 text-right">
                <Button onClick={() => go(`/jobs/${job.id}/run-sheet`)} className="text-plum">
                  Open
                </Button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      {latest ? (
        <BeadsAside job={job} plan={latest} moves={moves} isReady={isReady} />
      ) : (
        <aside className="border-l border-line bg-sheet" aria-label="Beads as they will lie" />
      )}
    </div>
  );
}
