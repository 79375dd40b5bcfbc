import type { JobView } from "../../api/generated/JobView";
import type { ModelView } from "../../api/generated/ModelView";
import type { RouteKind } from "../../api/generated/RouteKind";
import { useSplit } from "../../api/queries";
import { useBench } from "../../state/bench";

const names: Record<RouteKind, string> = { parts: "Parts", patches: "Patches", bands: "Bands", strokes: "Strokes" };

/** Whether the model can be split, and the ways of colouring it with the reason for each, the best first. */
export function SplitAnswer({ job, index, model }: { job: JobView; index: number; model: ModelView }) {
  const crease = useBench((s) => s.settings.creaseDeg);
  const split = useSplit(job.id, index, model.mesh_key, crease);
  return (
    <section aria-label="Can it be split?" className="mt-5">
      <h2 className="heading">Can it be split?</h2>
      {!split.data ? (
        <p className="mt-1 text-soft">{split.error ? split.error.message : "Looking"}</p>
      ) : (
        <>
          <p className="mt-1 font-medium">{split.data.answer}.</p>
          <ol className="mt-2 border-t border-line">
            {split.data.routes.map((r, i) => (
              <li key={r.kind} className="grid grid-cols-[70px_1fr] gap-2 border-b border-line py-1.5">
                <span className={i === 0 ? "font-semibold text-plum" : r.works ? "font-medium" : "text-faint"}>{names[r.kind]}</span>
                <span className={r.works ? "" : "text-soft"}>
                  {i === 0 && <span className="font-medium">Suits best. </span>}
                  {!r.works && <span aria-hidden>✕ </span>}
                  {r.why}
                </span>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}
