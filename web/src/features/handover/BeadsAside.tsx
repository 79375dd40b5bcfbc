import type { JobView } from "../../api/generated/JobView";
import type { MovesView } from "../../api/generated/MovesView";
import type { PlanView } from "../../api/generated/PlanView";
import { useMoveData } from "../../api/moves";
import { useBench } from "../../state/bench";
import { BeadsPane } from "../beads/BeadsPane";
import { LayerTrack } from "../beads/LayerTrack";
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
      <LayerTrack layer={layer} count={layers.length} topMm={planned?.z1_mm ?? 0} onChange={setLayer} />
      <div className="px-3.5 py-3">{isReady && moves && <MovesTable id={job.id} moves={moves} />}</div>
    </aside>
  );
}
