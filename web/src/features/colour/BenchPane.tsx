import { useCallback, useMemo, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Place } from "../../api/generated/Place";
import type { PlanView } from "../../api/generated/PlanView";
import { useChanges, useMesh } from "../../api/queries";
import { Bench } from "../../scene/Bench";
import { useBench, type Look } from "../../state/bench";
import { count } from "../../ui/format";
import { Trouble, Waiting } from "../../ui/states";
import { ColouredModel } from "./ColouredModel";
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
  const first = useMesh(job.id, 0, job.models[0]?.mesh_key ?? "");
  const { edit } = useChanges(job.id);
  const [taken, setTaken] = useState<number | null>(null);
  const [patchCounts, setPatchCounts] = useState<Record<number, number>>({});
  const notePatches = useCallback((model: number, n: number) => setPatchCounts((all) => ({ ...all, [model]: n })), []);
  const region = job.regions.find((r) => r.key === bench.region);
  const isPatch = bench.tool === "patch";
  const lift = -(job.low_mm[2] ?? 0);
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
    (at: Place) => {
      if (isPatch) edit({ edit: "give-patch", region: bench.region, at, crease_deg: bench.creaseDeg });
      else edit({ edit: "give-part", region: bench.region, at });
    },
    [isPatch, edit, bench.region, bench.creaseDeg],
  );
  const layer = plan?.state === "ready" ? plan.plan.layers[bench.layer] : undefined;
  const counts = job.models.map((_, i) => patchCounts[i]);
  const patchCount = counts.every((n) => n !== undefined) ? counts.reduce((sum, n) => sum + n, 0) : undefined;
  return (
    <section className="relative min-h-0 min-w-0 overflow-hidden bg-bench" aria-label="Bench">
      {first.data ? (
        <Bench low={job.low_mm} size={job.size_mm} fits={bench.fits} covered={0.14}>
          {job.models.map((m, i) => (
            <ColouredModel key={m.name} job={job} index={i} colours={colours} cutAt={layer ? layer.z1_mm : 1e9} lift={lift} onTaken={setTaken} onPatches={notePatches} onPick={pick} />
          ))}
        </Bench>
      ) : first.error ? (
        <Trouble error={first.error} retry={() => void first.refetch()} />
      ) : (
        <Waiting what="Bringing the model to the bench" />
      )}
      <p className="pointer-events-none absolute left-3.5 top-3 max-w-[70%] text-soft" role="status">
        {taken === null ? (
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
      <Tray patchCount={patchCount} partCount={job.models.reduce((n, m) => n + m.parts.length, 0)} />
    </section>
  );
}
