import { useEffect, useMemo, useState } from "react";
import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import type { Place } from "../../api/generated/Place";
import { useLabels, useMesh, usePatches } from "../../api/queries";
import { Border } from "../../scene/Border";
import { Model, type Alone, type Hit } from "../../scene/Model";
import { useBench } from "../../state/bench";
import { partShifts } from "./apart";
import { useDrawing } from "./tools/useDrawing";
import { useTaken, type Taken } from "./tools/useTaken";

/** One model on the bench of Colour: shows what the tool in hand would take, and says so. */
export function ColouredModel({ job, index, colours, cutAt, lift, bands, onTaken, onPatches, onPick, onCommit }: {
  job: JobView;
  index: number;
  colours: Map<number, string>;
  cutAt: number;
  lift: number;
  /** Heights of the typed bands as they will be cut. */
  bands: readonly (readonly [number, number])[];
  /** What a click would take; none when nothing is hovered. */
  onTaken: (taken: Taken | null, at: Hit | null) => void;
  onPatches: (index: number, count: number) => void;
  onPick: (at: Place) => void;
  onCommit: (edit: Edit, settled: () => void) => void;
}) {
  const { tool, settings, looks, alone } = useBench();
  const model = job.models[index];
  const key = model?.mesh_key ?? "";
  const mesh = useMesh(job.id, index, key);
  const labels = useLabels(job.id, index, job.revision);
  const patches = usePatches(job.id, index, key, settings.creaseDeg);
  const [hit, setHit] = useState<Hit | null>(null);
  // Labels of the mesh before a change are no use for the one after it.
  const fits = labels.data?.facets.length === mesh.data?.facets;
  const divisions = fits ? labels.data?.divisions : undefined;
  const name = model?.name ?? "";
  const taken = useTaken(job, index, { mesh: mesh.data, patches: patches.data, divisions }, hit);
  const drawing = useDrawing(name, lift, hit, bands, onCommit);
  const groups = useMemo(() => {
    const facets = drawing.facetsDrawn;
    if (!facets || !mesh.data) return null;
    const mask = new Uint32Array(mesh.data.facets);
    facets.forEach((f) => (mask[f] = 1));
    return mask;
  }, [drawing.facetsDrawn, mesh.data]);
  const apart = useMemo(() => (looks.apart ? partShifts(job, index) : null), [looks.apart, job, index]);
  const shown = useMemo((): Alone => {
    if (!alone) return { region: null, part: null };
    if ("region" in alone) return { region: job.regions.find((r) => r.key === alone.region)?.number ?? null, part: null };
    // Of the other models no part is shown.
    return { region: null, part: alone.model === index ? alone.part : 0xffff_fff };
  }, [alone, job.regions, index]);
  const { pieces, areaMm2, count, problem } = taken;
  useEffect(() => {
    if (!hit) return;
    onTaken({ groups: undefined, hovered: null, border: null, pieces, areaMm2, count, problem }, hit);
    return () => onTaken(null, null);
  }, [hit, pieces, areaMm2, count, problem, onTaken]);
  const found = patches.data?.count;
  useEffect(() => {
    if (found !== undefined) onPatches(index, found);
  }, [index, found, onPatches]);
  if (!mesh.data || !model) return null;
  const isShown = !drawing.isDrawing;
  return (
    <>
      <Model
        mesh={mesh.data}
        labels={labels.data?.facets}
        divisions={divisions}
        groups={groups ?? taken.groups}
        hovered={groups ? 1 : isShown ? taken.hovered : null}
        colours={colours}
        looks={looks}
        cutAt={cutAt}
        lift={lift}
        apart={apart}
        alone={shown}
        brush={drawing.brush}
        onHover={setHit}
        onPick={(at) => onPick({ model: name, point: at.point, normal: at.normal })}
        {...(drawing.onDraw ? { onDraw: drawing.onDraw } : {})}
      />
      {taken.border && taken.border.length > 0 && isShown && tool === "patch" && !apart && <Border ends={taken.border} lift={lift} />}
    </>
  );
}
