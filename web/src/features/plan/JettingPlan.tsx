import type { JobView } from "../../api/generated/JobView";
import { usePlan } from "../../api/queries";
import { useBench } from "../../state/bench";
import { fixed } from "../../ui/format";
import { useLatestPlan } from "../score/useLatestPlan";
import { LayerPane } from "./LayerPane";
import { Materials } from "./Materials";

/** For a machine that lays all colours of a layer at once: the layers, and what it builds of each material. */
export function JettingPlan({ job }: { job: JobView }) {
  const latest = useLatestPlan(usePlan(job.id).data);
  const layer = useBench((s) => s.layer);
  const setLayer = useBench((s) => s.setLayer);
  const last = Math.max(0, (latest?.plan.layers.length ?? 1) - 1);
  const at = Math.min(layer, last);
  const top = latest?.plan.layers[at]?.z1_mm;
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_352px]">
      <div className="grid min-h-0 grid-rows-[minmax(0,1fr)_44px]">
        <LayerPane job={job} plan={latest} layer={at} />
        <label className="flex items-center gap-3 border-t border-line bg-sheet px-4">
          <span className="figure w-32 shrink-0 text-soft">
            {at + 1} of {last + 1}
            {top !== undefined && `, ${fixed(top, 1)} mm`}
          </span>
          <input
            type="range"
            aria-label="Layer"
            className="min-w-0 flex-1 accent-plum"
            min={0}
            max={last}
            value={at}
            onChange={(e) => setLayer(Number(e.target.value))}
          />
        </label>
      </div>
      <aside className="border-l border-line px-5 py-4" aria-label="Plan">
        <h2 className="text-[15px] font-semibold">Nothing to put in order</h2>
        <p className="mt-1 text-soft">
          All colours of a layer are laid at once: nothing is swapped, rinsed or purged. How long it takes, the machine itself will say.
        </p>
        <h2 className="heading mt-5 border-b border-line pb-1.5">What it builds</h2>
        <Materials job={job} />
      </aside>
    </div>
  );
}
