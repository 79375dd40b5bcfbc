import type { DefectKind } from "../../api/generated/DefectKind";
import type { JobView } from "../../api/generated/JobView";
import type { ModelView } from "../../api/generated/ModelView";
import { useDefects } from "../../api/queries";
import { useIntake } from "../../state/intake";
import { count, fixed } from "../../ui/format";
import { MendForm } from "./MendForm";
import { useOf } from "../../state/useOf";

export const defectNames: Record<DefectKind, { one: string; many: string; what: string }> = {
  "open-edge": { one: "open edge", many: "open edges", what: "The surface has a hole or a crack; layers are closed straight across it." },
  "crowded-edge": { one: "crowded edge", many: "crowded edges", what: "More than two facets meet; bodies touch there and stay separate." },
  "turned-facet": { one: "turned edge", many: "turned edges", what: "Neighbours disagree about which side is outside." },
  "degenerate-facet": { one: "facet without area", many: "facets without area", what: "Harmless, but no tool can pick it." },
  "duplicate-facet": { one: "repeated facet", many: "repeated facets", what: "The same three corners twice." },
  "inside-out-part": { one: "part inside out", many: "parts inside out", what: "All its facets face inward." },
};

/** What is wrong with a model: counted, shown on the bench one by one, and mended on request. */
export function Defects({ job, index, model }: { job: JobView; index: number; model: ModelView }) {
  const { defect, setDefect } = useOf(useIntake, "defect", "setDefect");
  const shown = defect?.model === index ? defect : null;
  const places = useDefects(job.id, index, model.mesh_key, shown?.kind ?? null);
  const total = places.data?.length ?? 0;
  const step = (by: number) => shown && total > 0 && setDefect({ ...shown, at: (shown.at + by + total) % total });
  return (
    <section aria-label="Defects" className="mt-5">
      <h2 className="heading">Defects</h2>
      {model.defects.length === 0 ? (
        <p className="mt-1 text-fine">✓ None found</p>
      ) : (
        <ul className="mt-1 border-t border-line">
          {model.defects.map((d) => {
            const isShown = shown?.kind === d.kind;
            const names = defectNames[d.kind];
            const place = isShown ? places.data?.[shown.at] : undefined;
            return (
              <li key={d.kind} className="border-b border-line py-1.5">
                <div className="flex items-baseline justify-between gap-3">
                  <span className="font-medium text-look">
                    ! <span className="figure">{count(d.count)}</span> {d.count === 1 ? names.one : names.many}
                  </span>
                  {isShown ? (
                    <span className="flex items-center gap-2" role="group" aria-label={`Places of ${names.many}`}>
                      <button
                        type="button"
                        className="font-semibold text-plum hover:underline"
                        onClick={() => step(-1)}
                        aria-label="Previous place"
                      >
                        ‹
                      </button>
                      <span className="figure text-soft">{total === 0 ? "…" : `${shown.at + 1} of ${total}`}</span>
                      <button
                        type="button"
                        className="font-semibold text-plum hover:underline"
                        onClick={() => step(1)}
                        aria-label="Next place"
                      >
                        ›
                      </button>
                      <button type="button" className="font-semibold text-plum hover:underline" onClick={() => setDefect(null)}>
                        Done
                      </button>
                    </span>
                  ) : (
                    <button
                      type="button"
                      className="font-semibold text-plum hover:underline"
                      aria-label={`Show ${names.many}`}
                      onClick={() => setDefect({ model: index, kind: d.kind, at: 0 })}
                    >
                      Show
                    </button>
                  )}
                </div>
                <span className="block text-soft">
                  {place ? (
                    <>
                      {count(place.count)} here, {fixed(2 * place.radius_mm, 2)} mm across, at{" "}
                      <span className="figure">{place.at.map((c) => fixed(c, 1)).join(", ")}</span>
                    </>
                  ) : (
                    names.what
                  )}
                </span>
              </li>
            );
          })}
        </ul>
      )}
      <MendForm job={job} index={index} model={model} />
    </section>
  );
}
