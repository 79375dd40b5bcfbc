import { useMemo } from "react";
import type { DefectKind } from "../../api/generated/DefectKind";
import type { JobView } from "../../api/generated/JobView";
import type { ModelView } from "../../api/generated/ModelView";
import { useLabels, useMesh } from "../../api/queries";
import { Bench } from "../../scene/Bench";
import { liftOf } from "../../scene/lift";
import { Model } from "../../scene/Model";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { count, fixed } from "../../ui/format";
import { Trouble, Waiting } from "../../ui/states";

const defectNames: Record<DefectKind, [string, string]> = {
  "open-edge": ["open edges", "the surface has holes; layers are closed straight across them"],
  "crowded-edge": ["edges with more than two facets", "bodies touch there; they stay separate"],
  "turned-facet": ["turned facets", "neighbours disagree about which side is outside"],
  "degenerate-facet": ["facets without area", "harmless"],
  "duplicate-facet": ["duplicated facets", "the same three corners twice"],
  "inside-out-part": ["inside-out parts", "all facets face inward; they are planned as if turned"],
};

/** A card for the model, and the model itself. */
export function IntakeStage({ job }: { job: JobView }) {
  const fits = useBench((s) => s.fits);
  const mesh = useMesh(job.id, 0);
  const labels = useLabels(job.id, 0, job.revision);
  const lift = useMemo(() => (mesh.data ? liftOf(mesh.data) : 0), [mesh.data]);
  const colours = useMemo(() => new Map(job.regions.map((r) => [r.number, r.colour])), [job]);
  const looks = { spools: false, patterns: false, edges: false, xray: false, cut: false };
  return (
    <div className="grid h-full grid-cols-[400px_minmax(0,1fr)]">
      <aside className="min-h-0 overflow-y-auto border-r border-line" aria-label="Models">
        {job.models.map((m) => <Card key={m.name} model={m} job={job} />)}
        <div className="px-6 pb-8">
          <Button kind="main" onClick={() => go(`/jobs/${job.id}/colour`)}>Colour it</Button>
        </div>
      </aside>
      <section className="min-h-0 bg-bench" aria-label="Bench">
        {mesh.data ? (
          <Bench mesh={mesh.data} lift={lift} fits={fits}>
            <Model mesh={mesh.data} labels={labels.data} groups={undefined} hovered={null} colours={colours} looks={looks} cutAt={1e9} lift={lift} />
          </Bench>
        ) : mesh.error ? (
          <Trouble error={mesh.error} retry={() => void mesh.refetch()} />
        ) : (
          <Waiting what="Bringing the model to the bench" />
        )}
      </section>
    </div>
  );
}

function Card({ model, job }: { model: ModelView; job: JobView }) {
  const [x = 0, y = 0, z = 0] = model.size_mm;
  const bed = job.printer.bed_mm;
  const isTooLarge = x > bed[0] || y > bed[1] || z > bed[2];
  const isTiny = Math.max(x, y, z) < 2;
  return (
    <article className="px-6 py-6" aria-label={model.name}>
      <h1 className="truncate text-lg" title={model.name}>{model.name}</h1>
      <p className="truncate text-soft" title={model.file}>{model.file}</p>
      <p className="figure mt-4 text-[20px] font-semibold">{fixed(x, 1)} × {fixed(y, 1)} × {fixed(z, 1)} mm</p>
      {isTooLarge && <p className="mt-1 font-medium text-look">Larger than the bed ({bed.join(" × ")} mm). Check the units of the file.</p>}
      {isTiny && <p className="mt-1 font-medium text-look">Smaller than 2 mm. The file may be in inches or metres.</p>}
      <dl className="mt-4 border-t border-line">
        <Fact name="Format" value={model.format} />
        <Fact name="Units" value="mm, assumed: STL has none" />
        <Fact name="Facets" value={count(model.facets)} isFigure />
        <Fact name="Vertices" value={count(model.vertices)} isFigure />
        <Fact name="Closed" value={model.closed ? "Yes" : "No"} />
        <Fact name="Volume" value={`${fixed(model.volume_mm3 / 1000, 2)} cm³`} isFigure />
        <Fact name="Surface" value={`${fixed(model.area_mm2 / 100, 2)} cm²`} isFigure />
      </dl>
      <h2 className="heading mt-6">Can it be split?</h2>
      <p className="mt-1">
        {model.parts.length > 1
          ? `Yes: ${model.parts.length} separate parts. Give each a colour whole, or colour patches.`
          : "One fused body: colours come from patches."}
      </p>
      {model.parts.length > 1 && (
        <ul className="mt-2 border-t border-line">
          {model.parts.map((p, i) => (
            <li key={i} className="flex justify-between gap-3 border-b border-line py-1">
              <span className="truncate" title={p.name}>{p.name}{p.encloses.length > 0 && <span className="text-soft"> · encloses {p.encloses.join(", ")}</span>}</span>
              <span className="figure shrink-0 text-soft">{count(p.facets)}{p.closed ? "" : " · open"}</span>
            </li>
          ))}
        </ul>
      )}
      <h2 className="heading mt-6">Defects</h2>
      {model.defects.length === 0 ? (
        <p className="mt-1 text-fine">✓ None found</p>
      ) : (
        <ul className="mt-1 border-t border-line">
          {model.defects.map((d) => (
            <li key={d.kind} className="border-b border-line py-1.5">
              <span className="font-medium text-look">! <span className="figure">{count(d.count)}</span> {defectNames[d.kind][0]}</span>
              <span className="block text-soft">{defectNames[d.kind][1]}; first at <span className="figure">{d.first_at.map((c) => fixed(c, 1)).join(", ")}</span></span>
            </li>
          ))}
        </ul>
      )}
    </article>
  );
}

function Fact({ name, value, isFigure }: { name: string; value: string; isFigure?: boolean }) {
  return (
    <div className="flex justify-between border-b border-line py-1">
      <dt className="text-soft">{name}</dt>
      <dd className={isFigure ? "figure" : ""}>{value}</dd>
    </div>
  );
}
