import { useMemo } from "react";
import { borderOf, type DivisionData, type MeshData, type PatchData } from "../../../api/binary";
import type { JobView } from "../../../api/generated/JobView";
import { usePreview } from "../../../api/queries";
import type { Hit } from "../../../scene/Model";
import { useBench, useTarget, type Tool } from "../../../state/bench";
import { cardOf } from "../toolList";
import { useOf } from "../../../state/useOf";

/** What a click would take, for showing it. */
export interface Taken {
  groups: Uint32Array | undefined;
  hovered: number | null;
  border: Float32Array | null;
  /** Facets or triangles it takes, in words to the maker; none while nothing is hovered or it is being found. */
  pieces: number | null;
  areaMm2: number | null;
  count: number;
  problem: string | null;
}

/** Looks up what a click at the hovered place takes: from the patches at hand where they tell, else from the server. */
export function useTaken(
  job: JobView,
  index: number,
  tool: Tool,
  data: { mesh: MeshData | undefined; patches: PatchData | undefined; divisions: DivisionData | undefined },
  hit: Hit | null,
): Taken {
  const { settings } = useOf(useBench, "settings");
  const region = useTarget();
  const { mesh, patches, divisions } = data;
  const model = job.models[index]?.name ?? "";
  const isPlainPatch = tool === "patch" && settings.within === "part" && settings.turnDeg === null;
  const isLocal = isPlainPatch || tool === "part" || (tool === "facet" && !settings.flat);
  const known =
    tool === "part" || (tool === "alike" && settings.alikeTo === "parts")
      ? mesh?.partOf
      : tool === "facet" || tool === "patch"
        ? undefined
        : patches?.patchOf;
  // Every facet of one group has the same preview, so it is asked for once.
  const group = hit ? (known?.[hit.facet] ?? hit.facet) : null;
  const { click } = cardOf(tool);
  const edit = hit && click && !isLocal ? click(settings, region, { model, point: hit.point, normal: hit.normal }) : null;
  const key = [tool, JSON.stringify(settings), region, index, group].join();
  const preview = usePreview(job.id, job.revision, key, edit);
  const found = edit ? preview.data : undefined;
  const mask = useMemo(() => {
    const runs = found?.runs[index];
    if (!runs || !mesh) return undefined;
    const all = new Uint32Array(mesh.facets + (divisions?.count ?? 0));
    for (const [first, n] of runs) all.fill(1, first, first + n);
    // A divided facet that is taken whole is drawn by its triangles.
    divisions?.facetOf.forEach((f, t) => {
      if (all[f] === 1) all[mesh.facets + t] = 1;
    });
    return all;
  }, [found, index, mesh, divisions]);
  const single = useMemo(
    () => (mesh && tool === "facet" ? Uint32Array.from({ length: mesh.facets }, (_, i) => i) : undefined),
    [mesh, tool],
  );
  const local = isPlainPatch ? patches?.patchOf : tool === "part" ? mesh?.partOf : tool === "facet" ? single : undefined;
  const hovered = isLocal && hit && local ? (local[hit.facet] ?? null) : null;
  const pieces = useMemo(() => {
    if (hovered === null || !local) return null;
    if (tool === "facet") return 1;
    let n = 0;
    for (const g of local) if (g === hovered) n++;
    return n;
  }, [hovered, local, tool]);
  const border = useMemo(
    () => (isPlainPatch && patches && hovered !== null ? borderOf(patches, hovered) : null),
    [isPlainPatch, patches, hovered],
  );
  if (!isLocal) {
    return {
      groups: mask,
      hovered: mask ? 1 : null,
      border: null,
      pieces: found ? found.pieces : null,
      areaMm2: found ? found.area_mm2 : null,
      count: found?.count ?? 1,
      problem: edit && preview.error ? preview.error.message : null,
    };
  }
  return { groups: local, hovered, border, pieces, areaMm2: null, count: 1, problem: null };
}
