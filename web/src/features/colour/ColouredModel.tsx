import { useCallback, useEffect, useMemo, useState } from "react";
import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import type { Place } from "../../api/generated/Place";
import { useSnagFacets } from "../../api/planning";
import { useLabels, useMesh, usePatches } from "../../api/queries";
import { Border } from "../../scene/Border";
import { Model, type Alone, type Hit } from "../../scene/Model";
import { useBench, type Tool } from "../../state/bench";
import type { OnPart } from "../parts/usePartWork";
import { partShifts } from "./apart";
import { useDrawing } from "./tools/useDrawing";
import { useTaken, type Taken } from "./tools/useTaken";
import { useOf } from "../../state/useOf";

/** One model on the bench of Colour: shows what the tool in hand would take, and says so. */
export function ColouredModel({
  job,
  index,
  colours,
  cutAt,
  lift,
  bands,
  onTaken,
  onPatches,
  onHovered,
  onPick,
  onCommit,
  onPut,
}: {
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
  /** Where the pointer is, with the key of the part there. */
  onHovered: (at: OnPart | null) => void;
  onPick: (at: Place) => void;
  onCommit: (edit: Edit, settled: () => void) => void;
  /** A drawing is put or moved: where the pointer is on which model, and when it is let go. */
  onPut: (phase: "move" | "end", index: number, at: Hit | null) => void;
}) {
  const { hand, settings, looks, alone, hidden, chosen, pointed, snag } = useOf(
    useBench,
    "hand",
    "settings",
    "looks",
    "alone",
    "hidden",
    "chosen",
    "pointed",
    "snag",
  );
  const tool = useToolShown();
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
  const taken = useTaken(job, index, tool, { mesh: mesh.data, patches: patches.data, divisions }, hit);
  const layHere = useCallback((phase: "move" | "end", at: Hit | null) => onPut(phase, index, at), [onPut, index]);
  const drawing = useDrawing(name, lift, hit, bands, onCommit, layHere);
  const groups = useMemo(() => {
    const facets = drawing.facetsDrawn;
    if (!facets || !mesh.data) return null;
    const mask = new Uint32Array(mesh.data.facets);
    facets.forEach((f) => (mask[f] = 1));
    return mask;
  }, [drawing.facetsDrawn, mesh.data]);
  const apart = useMemo(() => partShifts(job, index, looks.apart, hidden), [looks.apart, hidden, job, index]);
  // A part that is chosen or pointed at in the list shows on the bench, while the bench itself is not pointed at.
  const listed = useMemo(() => {
    const keys = pointed !== null ? [pointed] : chosen;
    const parts = model?.parts.map((p) => (keys.includes(p.key) ? 1 : 0)) ?? [];
    if (hit || !mesh.data || !parts.includes(1)) return null;
    return Uint32Array.from(mesh.data.partOf, (p) => parts[p] ?? 0);
  }, [pointed, chosen, model, hit, mesh.data]);
  // So do the facets of the snag that is looked at.
  const runs = useSnagFacets(job.id, job.revision, snag).data?.runs[index];
  const snagged = useMemo(() => {
    if (hit || snag === null || !runs || !mesh.data) return null;
    const mask = new Uint32Array(mesh.data.facets + (divisions?.count ?? 0));
    for (const [first, n] of runs) mask.fill(1, first, first + n);
    divisions?.facetOf.forEach((f, t) => (mask[(mesh.data?.facets ?? 0) + t] = mask[f] ?? 0));
    return mask;
  }, [hit, snag, runs, mesh.data, divisions]);
  useEffect(() => {
    const part = hit && mesh.data ? model?.parts[mesh.data.partOf[hit.facet] ?? 0]?.key : undefined;
    onHovered(hit && part !== undefined ? { place: { model: name, point: hit.point, normal: hit.normal }, part } : null);
  }, [hit, mesh.data, model, name, onHovered]);
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
        groups={groups ?? snagged ?? listed ?? taken.groups}
        hovered={groups || snagged || listed ? 1 : isShown ? taken.hovered : null}
        colours={colours}
        looks={looks}
        {...(job.printer.printing ? { leanDeg: job.printer.printing.support_angle_deg } : {})}
        cutAt={cutAt}
        lift={lift}
        apart={apart}
        alone={shown}
        brush={hand === "surface" ? drawing.brush : null}
        onHover={setHit}
        onPick={(at) => onPick({ model: name, point: at.point, normal: at.normal })}
        {...(drawing.onDraw && hand === "surface" ? { onDraw: drawing.onDraw } : {})}
      />
      {taken.border && taken.border.length > 0 && isShown && tool === "patch" && !apart && <Border ends={taken.border} lift={lift} />}
    </>
  );
}

/** The tool whose reach is shown: work on parts shows whole parts, or the relief that an inlay would fill. */
function useToolShown(): Tool {
  return useBench((s) => (s.hand === "surface" ? s.tool : s.partTool === "inlay" ? "relief" : "part"));
}
