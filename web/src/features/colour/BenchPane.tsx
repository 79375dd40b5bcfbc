import { useCallback, useMemo, useState } from "react";
import { borderOf } from "../../api/binary";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { useChanges, useLabels, useMesh, usePatches } from "../../api/queries";
import { Bench } from "../../scene/Bench";
import { Border } from "../../scene/Border";
import { liftOf } from "../../scene/lift";
import { Model, type Hit } from "../../scene/Model";
import { useBench, type Look } from "../../state/bench";
import { count } from "../../ui/format";
import { Trouble, Waiting } from "../../ui/states";
import { Tray } from "./Tray";

const looks: [Look, string, string][] = [
  ["spools", "Spools", "Show the colours of the loaded spools instead of the wanted ones"],
  ["patterns", "Patterns", "Tell regions apart without colour"],
  ["xray", "X-ray", "See through the model"],
  ["edges", "Edges", "Show the edges of facets"],
  ["cut", "Cut", "Cut the model at the layer of the score"],
];

/** The bench of the Colour stage: hover shows what a click takes, a click gives it to the chosen region. */
export function BenchPane({ job, plan }: { job: JobView; plan: PlanView | undefined }) {
  const bench = useBench();
  const mesh = useMesh(job.id, 0);
  const labels = useLabels(job.id, 0, job.revision);
  const patches = usePatches(job.id, 0, bench.creaseDeg);
  const { edit } = useChanges(job.id);
  const [hit, setHit] = useState<Hit | null>(null);
  const model = job.models[0];
  const region = job.regions.find((r) => r.key === bench.region);
  const isPatch = bench.tool === "patch";
  const groups = isPatch ? patches.data?.patchOf : mesh.data?.partOf;
  const hovered = hit && groups ? (groups[hit.facet] ?? null) : null;
  const lift = useMemo(() => (mesh.data ? liftOf(mesh.data) : 0), [mesh.data]);
  const ends = useMemo(
    () => (isPatch && patches.data && hovered !== null ? borderOf(patches.data, hovered) : null),
    [isPatch, patches.data, hovered],
  );
  const taken = useMemo(() => {
    if (hovered === null || !groups) return 0;
    let n = 0;
    for (const g of groups) if (g === hovered) n++;
    return n;
  }, [groups, hovered]);
  const colours = useMemo(
    () =>
      new Map(
        job.regions.map((r) => {
          const slot = job.slots.find((s) => s.slot === r.slot);
          return [r.number, bench.looks.spools && slot ? slot.colour : r.colour];
        }),
      ),
    [job, bench.looks.spools],
  );
  const pick = useCallback(
    (at: Hit) => {
      if (!model) return;
      const place = { model: model.name, point: at.point, normal: at.normal };
      if (isPatch) edit({ edit: "give-patch", region: bench.region, at: place, crease_deg: bench.creaseDeg });
      else edit({ edit: "give-part", region: bench.region, at: place });
    },
    [model, isPatch, edit, bench.region, bench.creaseDeg],
  );
  const layer = plan?.state === "ready" ? plan.plan.layers[bench.layer] : undefined;
  return (
    <section className="relative min-h-0 min-w-0 overflow-hidden bg-bench" aria-label="Bench">
      {mesh.data ? (
        <Bench mesh={mesh.data} lift={lift} fits={bench.fits} low={0.14}>
          <Model
            mesh={mesh.data}
            labels={labels.data}
            groups={groups}
            hovered={hovered}
            colours={colours}
            looks={bench.looks}
            cutAt={layer ? layer.z1_mm : 1e9}
            lift={lift}
            onHover={setHit}
            onPick={pick}
          />
          {ends && ends.length > 0 && <Border ends={ends} lift={lift} />}
        </Bench>
      ) : mesh.error ? (
        <Trouble error={mesh.error} retry={() => void mesh.refetch()} />
      ) : (
        <Waiting what="Bringing the model to the bench" />
      )}
      <p className="pointer-events-none absolute left-3.5 top-3 max-w-[70%] text-soft" role="status">
        {hovered === null ? (
          <>
            Click a {isPatch ? "patch" : "part"} to give it to <b className="text-ink">{region?.name}</b>.
            {isPatch && <> Patches stop where the surface turns more than {bench.creaseDeg}°.</>}
          </>
        ) : (
          <>
            <span className="figure text-ink">{count(taken)} {taken === 1 ? "facet" : "facets"}</span> to <b className="text-ink">{region?.name}</b>
          </>
        )}
      </p>
      <div className="absolute right-3 top-3 flex w-20 flex-col gap-1.5">
        {looks.map(([look, name, why]) => (
          <button
            key={look}
            type="button"
            aria-pressed={bench.looks[look]}
            title={why}
            onClick={() => bench.toggle(look)}
            className={`rounded-[4px] border px-2 py-1 font-medium ${bench.looks[look] ? "border-plum bg-plum text-white" : "border-line bg-sheet hover:border-faint"}`}
          >
            {name}
          </button>
        ))}
        <button type="button" title="See the whole model (F)" onClick={bench.fit} className="rounded-[4px] border border-line bg-sheet px-2 py-1 font-medium hover:border-faint">Fit</button>
      </div>
      <Tray patchCount={patches.data?.count} partCount={model?.parts.length ?? 0} />
    </section>
  );
}
