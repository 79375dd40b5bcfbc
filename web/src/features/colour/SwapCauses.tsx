import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { useSnags } from "../../api/planning";
import { useBench } from "../../state/bench";
import { fixed } from "../../ui/format";
import { SnagList } from "../plan/SnagList";
import { useLatestPlan } from "../score/useLatestPlan";

/** Why there are swaps: which layers need which regions. */
export function SwapCauses({ job, plan }: { job: JobView; plan: PlanView | undefined }) {
  const latest = useLatestPlan(plan);
  const setLayer = useBench((s) => s.setLayer);
  const nameOf = (key: string) => job.regions.find((r) => r.key === key)?.name ?? key;
  const snags = useSnags(job.id, job.revision).data;
  if (!latest) return null;
  return (
    <div aria-label="Why it swaps">
      {(snags?.snags.length ?? 0) > 0 && (
        <div className="px-3.5">
          <SnagList job={job} view={snags} />
        </div>
      )}
      {latest.plan.causes.length === 0 && <p className="px-3.5 py-3 text-soft">One slot prints it all: no swaps.</p>}
      <ul>
        {latest.plan.causes.map((c) => (
          <li key={c.first_layer} className="border-b border-line">
            <button
              type="button"
              onClick={() => setLayer(c.first_layer)}
              className="w-full px-3.5 py-2 text-left hover:bg-sheet"
              title="Show this layer on the score"
            >
              <span className="font-semibold">
                {c.first_layer === c.last_layer ? `Layer ${c.first_layer + 1}` : `Layers ${c.first_layer + 1}–${c.last_layer + 1}`}
              </span>{" "}
              {c.first_layer === c.last_layer ? "needs" : "need"} {c.regions.map(nameOf).join(", ")}.
              <span className="figure block text-[12px] text-soft">
                {c.swaps} {c.swaps === 1 ? "swap" : "swaps"}, {fixed(c.purge_mm3, 0)} mm³
              </span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
