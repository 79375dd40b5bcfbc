import { useCallback, useMemo, useState } from "react";
import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import type { Place } from "../../api/generated/Place";
import type { PlanView } from "../../api/generated/PlanView";
import { useChanges, useLayer, useMesh, usePreview, useShared, useStrays } from "../../api/queries";
import { Bench } from "../../scene/Bench";
import { Ghost } from "../../scene/Ghost";
import { LayerCap } from "../../scene/LayerCap";
import type { Hit } from "../../scene/Model";
import { panBy, turnBy, zoomBy } from "../../scene/stage";
import { useBench, useTarget } from "../../state/bench";
import { NoModel } from "../intake/NoModel";
import { Trouble, Waiting } from "../../ui/states";
import { depthOf } from "../parts/partEdit";
import { PartHint } from "../parts/PartHint";
import { usePartWork } from "../parts/usePartWork";
import { ColouredModel } from "./ColouredModel";
import { Hint } from "./Hint";
import { LassoSheet } from "./LassoSheet";
import { Looks } from "./Looks";
import { PinnedPicture } from "./PinnedPicture";
import { LayFrame } from "./laying/LayFrame";
import { LayPanel } from "./laying/LayPanel";
import { useFlat, useLay } from "./laying/useLay";
import { useOnLay } from "./laying/useOnLay";
import { StrayMarks } from "./StrayMarks";
import { Tray } from "./Tray";
import { cardOf } from "./toolList";
import { bandEdit } from "./tools/band";
import type { Taken } from "./tools/useTaken";
import { useOf } from "../../state/useOf";

/** The bench of the Colour stage: hover shows what the tool in hand takes, a click or a drag gives it to the region. */
export function BenchPane({ job, plan }: { job: JobView; plan: PlanView | undefined }) {
  const bench = useOf(useBench, "alone", "fits", "hand", "hidden", "layer", "looks", "pair", "region", "settings", "stray", "tool");
  const target = useTarget();
  const first = useMesh(job.id, 0, job.models[0]?.mesh_key ?? "");
  const { edit } = useChanges(job.id);
  const [taken, setTaken] = useState<{ taken: Taken; at: Hit } | null>(null);
  const [patchCounts, setPatchCounts] = useState<Record<number, number>>({});
  const notePatches = useCallback((model: number, n: number) => setPatchCounts((all) => ({ ...all, [model]: n })), []);
  const noteTaken = useCallback((is: Taken | null, at: Hit | null) => setTaken(is && at ? { taken: is, at } : null), []);
  const lift = -(job.low_mm[2] ?? 0);
  const { tool, settings } = bench;
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
  const commit = useCallback((is: Edit, settled: () => void) => edit(is, { onSettled: () => window.setTimeout(settled, 60) }), [edit]);
  const work = usePartWork(job);
  const isLaying = bench.hand === "surface" && tool === "lay";
  const flat = useFlat();
  const lay = useLay(job.id);
  const onPut = useOnLay(job, lay);
  const shared = useShared(job.id, job.revision, bench.pair);
  const { hand } = bench;
  const { pick: pickPart } = work;
  const pick = useCallback(
    (at: Place) => {
      if (hand === "parts") return pickPart(at);
      const { isDrawn, click } = cardOf(tool);
      if (click && !isDrawn) edit(click(settings, target, at));
    },
    [hand, pickPart, tool, settings, target, edit],
  );
  // Where the typed bands will really be cut is the core's to say.
  const typed = hand === "surface" && tool === "band" ? bandEdit(settings, target, null) : null;
  const bands = usePreview(job.id, job.revision, `bands ${JSON.stringify(typed)}`, typed);
  const heights = useMemo(() => bands.data?.bands ?? [], [bands.data]);
  const strays = useStrays(job.id, job.revision, settings.strayMm2, bench.stray !== null);
  const stray = bench.stray === null ? undefined : strays.data?.[bench.stray]?.stray;
  const focus = useMemo(
    () => stray && { at: [stray.point[0], stray.point[1], stray.point[2] + lift] as const, radius: Math.max(2, Math.sqrt(stray.area_mm2)) },
    [stray, lift],
  );
  const layer = plan?.state === "ready" ? plan.plan.layers[bench.layer] : undefined;
  // The cut shows the layer as it is printed; the other looks move parts from where it is.
  const isCapped = bench.looks.cut && !bench.looks.apart && bench.hidden.length === 0 && bench.alone === null;
  const drawn = useLayer(job.id, bench.layer, isCapped && plan?.state === "ready" ? plan.revision : undefined);
  const cap = isCapped && drawn.data?.drawing.index === bench.layer ? drawn.data.drawing : null;
  const counts = job.models.map((_, i) => patchCounts[i]);
  const patchCount = counts.every((n) => n !== undefined) ? counts.reduce((sum, n) => sum + n, 0) : undefined;
  const keys: Record<string, () => void> = {
    ArrowLeft: () => turnBy(-0.15, 0),
    ArrowRight: () => turnBy(0.15, 0),
    ArrowUp: () => turnBy(0, 0.12),
    ArrowDown: () => turnBy(0, -0.12),
    "+": () => zoomBy(0.85),
    "=": () => zoomBy(0.85),
    "-": () => zoomBy(1.18),
  };
  const shifted: Record<string, () => void> = {
    ArrowLeft: () => panBy(-0.06, 0),
    ArrowRight: () => panBy(0.06, 0),
    ArrowUp: () => panBy(0, 0.06),
    ArrowDown: () => panBy(0, -0.06),
  };
  return (
    <section
      className="relative min-h-0 min-w-0 overflow-hidden bg-bench outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-plum)]"
      aria-label="Bench"
      data-drawn={first.data && patchCount !== undefined ? "" : undefined}
      tabIndex={0}
      title=""
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        const go = (e.shiftKey ? { ...keys, ...shifted } : keys)[e.key];
        if (!go) return;
        e.preventDefault();
        go();
      }}
    >
      {first.data ? (
        <Bench low={job.low_mm} size={job.size_mm} fits={bench.fits} covered={0.14} aside={isLaying ? 0.32 : 0} focus={focus ?? null}>
          {job.models.map((m, i) => (
            <ColouredModel
              key={m.name}
              job={job}
              index={i}
              colours={colours}
              cutAt={layer ? layer.z1_mm : 1e9}
              lift={lift}
              bands={heights}
              onTaken={noteTaken}
              onPatches={notePatches}
              onHovered={work.onHovered}
              onPick={pick}
              onCommit={commit}
              onPut={onPut}
            />
          ))}
          {isLaying && flat.flat && <LayFrame size={flat.flat.size_mm} lift={lift} />}
          {cap && <LayerCap drawing={cap} colours={colours} />}
          {work.ghost && <Ghost corners={work.ghost} lift={lift} />}
          {bench.pair && shared.data && <Ghost corners={shared.data} lift={lift} colour={0xb3261e} />}
          {bench.stray !== null && <StrayMarks strays={strays.data ?? []} chosen={bench.stray} lift={lift} />}
        </Bench>
      ) : job.models.length === 0 ? (
        <NoModel job={job} />
      ) : first.error ? (
        <Trouble error={first.error} retry={() => void first.refetch()} />
      ) : (
        <Waiting what="Bringing the model to the bench" />
      )}
      {isLaying && first.data && <LayPanel job={job} lay={lay} flat={flat} />}
      {hand === "surface" && tool === "lasso" && <LassoSheet lift={lift} onCommit={commit} />}
      {hand === "parts" ? (
        <PartHint job={job} tried={work.tried} />
      ) : (
        <Hint job={job} taken={taken?.taken ?? null} at={taken?.at ?? null} lift={lift} bands={heights} />
      )}
      <PinnedPicture job={job} />
      <Looks id={job.id} name={job.name} />
      <Tray
        job={job}
        patchCount={patchCount}
        onBands={() => edit(bandEdit(settings, target, null))}
        onAll={() => edit({ edit: "part", do: "from-region", region: bench.region, depth: depthOf(settings) })}
      />
    </section>
  );
}
