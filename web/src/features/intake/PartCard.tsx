import type { JobView } from "../../api/generated/JobView";
import type { ModelView } from "../../api/generated/ModelView";
import type { PartView } from "../../api/generated/PartView";
import { useChanges } from "../../api/queries";
import { useIntake } from "../../state/intake";
import { count, volume } from "../../ui/format";
import { NameField } from "../../ui/NameField";
import { Fact, SizeLine } from "./Facts";

/** One part of a model. */
export function PartCard({ job, model, index, part }: { job: JobView; model: ModelView; index: number; part: number }) {
  const { edit } = useChanges(job.id);
  const select = useIntake((s) => s.select);
  const of = model.parts[part];
  if (!of) return null;
  const own = job.regions.find((r) => r.number === of.own);
  return (
    <article className="px-5 pb-6 pt-3" aria-label={of.name}>
      <p className="text-soft">
        Part of{" "}
        <button type="button" className="font-semibold text-plum hover:underline" onClick={() => select({ of: "model", model: index })}>
          {model.name}
        </button>
        , from {model.file}
      </p>
      <h2 className="mt-1 text-[15px] font-semibold">
        <NameField
          label="Name of the part"
          value={of.name}
          onCommit={(name) => edit({ edit: "rename-part", at: { model: model.name, point: of.point, normal: of.normal }, name })}
        />
      </h2>
      <p className="figure mt-1 text-[19px] font-semibold">
        <SizeLine size={of.size_mm} /> mm
      </p>
      <dl className="mt-3 border-t border-line">
        <Fact name="Facets" isFigure>
          {count(of.facets)}
        </Fact>
        <Fact name="Closed">{of.closed ? <span className="text-fine">✓ yes</span> : <span className="text-look">! no</span>}</Fact>
        <Fact name="Volume" isFigure>
          {of.closed ? volume(of.volume_mm3) : "–"}
        </Fact>
        <Fact name="Own region">{own?.name ?? "–"}</Fact>
        {of.enclosed_count > 0 && <Fact name="Encloses">{enclosed(of)}</Fact>}
      </dl>
    </article>
  );
}

function enclosed(part: PartView) {
  const more = part.enclosed_count - part.encloses.length;
  return part.encloses.join(", ") + (more > 0 ? ` and ${count(more)} more` : "");
}
