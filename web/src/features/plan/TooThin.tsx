import type { JobView } from "../../api/generated/JobView";
import type { Plan } from "../../api/generated/Plan";
import { useBench } from "../../state/bench";
import { counted, volume } from "../../ui/format";
import { regionName } from "../score/names";

/** What is too thin to print from its own slot, and who prints it instead; a click goes to its first layer. */
export function TooThin({ job, plan }: { job: JobView; plan: Plan }) {
  const setLayer = useBench((s) => s.setLayer);
  if (plan.too_thin.length === 0) return null;
  return (
    <details className="shrink-0 border-t border-line px-4 py-1.5 text-[12.5px]">
      <summary className="cursor-pointer font-semibold">Too thin to print: {counted(plan.too_thin.length, "place")}</summary>
      <ul aria-label="Too thin to print" className="max-h-28 overflow-y-auto">
        {plan.too_thin.map((t) => (
          <li key={`${t.region} ${t.to}`}>
            <button
              type="button"
              className="flex w-full justify-between gap-3 py-0.5 text-left hover:bg-sheet"
              onClick={() => setLayer(t.first_layer)}
            >
              <span>
                {regionName(job, t.region)}: {t.to === null ? "not printed" : `${regionName(job, t.to)} prints it`}
              </span>
              <span className="figure text-soft">
                {counted(t.layers, "layer")} from L{t.first_layer + 1}, {volume(t.volume_mm3)}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
