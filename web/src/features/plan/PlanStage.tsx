import type { JobView } from "../../api/generated/JobView";
import { usePlan } from "../../api/queries";
import { useBench } from "../../state/bench";
import { SwapScore } from "../score/SwapScore";
import { useLatestPlan } from "../score/useLatestPlan";
import { LayerPane } from "./LayerPane";
import { RinseStrips } from "./RinseStrips";
import { Yardsticks } from "./Yardsticks";

/** The score large, the layer under its cursor in true colours, and how the swaps wash out. */
export function PlanStage({ job }: { job: JobView }) {
  const plan = usePlan(job.id).data;
  const latest = useLatestPlan(plan);
  const layer = useBench((s) => s.layer);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_430px] grid-rows-[232px_minmax(0,1fr)]">
      <section className="col-span-2 border-b border-line bg-sheet" aria-label="Swap score">
        <SwapScore job={job} plan={plan} height={231} />
      </section>
      <LayerPane job={job} plan={latest} layer={Math.min(layer, Math.max(0, (latest?.plan.layers.length ?? 1) - 1))} />
      <aside className="min-h-0 overflow-y-auto border-l border-line px-4 py-3" aria-label="Rinse">
        {latest && (
          <>
            <RinseStrips job={job} pairs={latest.plan.pairs} />
            <Yardsticks plan={latest.plan} />
          </>
        )}
      </aside>
    </div>
  );
}
