import { lazy, Suspense } from "react";
import type { JobView } from "../../api/generated/JobView";
import { usePlan } from "../../api/queries";
import { SwapScore } from "../score/SwapScore";
import { PartList } from "../parts/PartList";
import { Reference } from "./Reference";
import { RegionList } from "./RegionList";
import { SidePane } from "./SidePane";
import { BenchWaiting } from "../../ui/states";

// The 3D library comes with it; everything around it is on show before.
const BenchPane = lazy(() => import("./BenchPane").then((m) => ({ default: m.BenchPane })));

/** Regions left, bench in the middle with the tray at its foot, bill right, score along the bottom. */
export function ColourStage({ job }: { job: JobView }) {
  const plan = usePlan(job.id);
  return (
    <div
      className={`grid h-full grid-cols-[252px_minmax(0,1fr)_236px] ${job.machine.jets ? "grid-rows-[minmax(0,1fr)]" : "grid-rows-[minmax(0,1fr)_196px]"}`}
    >
      <aside className="flex min-h-0 flex-col overflow-y-auto border-r border-line" aria-label="Regions and parts">
        <RegionList job={job} plan={plan.data} />
        <PartList job={job} />
        <Reference job={job} />
      </aside>
      <Suspense fallback={<BenchWaiting />}>
        <BenchPane job={job} plan={plan.data} />
      </Suspense>
      <SidePane job={job} plan={plan.data} />
      {/* Where nothing is swapped there is no score. */}
      {!job.machine.jets && (
        <section className="col-span-3 border-t border-line bg-sheet" aria-label="Swap score">
          <SwapScore job={job} plan={plan.data} height={195} />
        </section>
      )}
    </div>
  );
}
