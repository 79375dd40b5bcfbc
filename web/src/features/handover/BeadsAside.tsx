import type { JobView } from "../../api/generated/JobView";
import type { MovesView } from "../../api/generated/MovesView";
import type { PlanView } from "../../api/generated/PlanView";
import { useMoveData } from "../../api/moves";
import { useBench } from "../../state/bench";
import { fixed } from "../../ui/format";
import { Track } from "../../ui/Track";
import { BeadsPane } from "../beads/BeadsPane";
import { MovesTable } from "../beads/MovesTable";

type Ready = Extract<PlanView, { state: "ready" }>;

/** The beads as they will lie, layer by layer, and what they come to. */
export function BeadsAside({ job, plan, moves, isReady }: { job: JobView; plan: Ready; moves: MovesView | undefined; isReady: boolean }) {
  const data = useMoveData(job.id, plan.revision, isReady).data;
  const { layers } = plan.plan;
  const layer = Math.min(
    useBench((s) => s.layer),
    layers.length - 1,
  );
  const setLayer = useBench((s) => s.setLayer);
  const planned = layers[layer];
  return (
    <aside className="flex min-h-0 flex-col overflow-y-auto border-l border-line bg-sheet" aria-label="Beads as they will lie">
      <div className="h-[430px] shrink-0 bg-bench">
        {data && planned && <BeadsPane job={job} data={data} layer={layer} topMm={planned.z1_mm} isStale={plan.revision < job.revision} />}
      </div>
      <div className="shrink-0 border-y border-line px-3.5 py-2">
        <div className="flex items-baseline justify-between">
          <span>
            <b>Layer {layer + 1}</b>
            <span className="figure ml-2 text-soft">{fixed(planned?.z1_mm ?? 0, 1)} mm</span>
          </span>
          <span className="figure text-[11.5px] text-soft">of {layers.length}</span>
        </div>
        <Track label="Layer" max={layers.length - 1} value={layer} onChange={setLayer} />
      </div>
      <div className="px-3.5 py-3">{isReady && moves && <MovesTable id={job.id} moves={moves} />}</div>
    </aside>
  );
}
