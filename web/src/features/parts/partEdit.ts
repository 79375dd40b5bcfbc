import type { CutPlane } from "../../api/generated/CutPlane";
import type { Depth } from "../../api/generated/Depth";
import type { PartEdit } from "../../api/generated/PartEdit";
import type { Place } from "../../api/generated/Place";
import type { PartTool, Settings } from "../../state/bench";

export function depthOf(s: Settings): Depth {
  switch (s.depthKind) {
    case "soak":
      return { depth: "soak" };
    case "through":
      return { depth: "through" };
    case "mm":
      return { depth: "mm", mm: s.depthMm };
    case "up-to":
      return { depth: "up-to", mm: s.depthMm };
  }
}

/** What a click on a part asks for; none while points for a cut are still missing. */
export function partEdit(tool: PartTool, s: Settings, region: string, at: Place, points: Place[]): PartEdit | null {
  const alike = s.onAlike;
  switch (tool) {
    case "to-part":
      return { do: "from-region", region, at, depth: depthOf(s), alike };
    case "cut": {
      const plane = planeOf(s, at, points);
      return plane && { do: "cut", at: points[0] ?? at, plane, alike };
    }
    case "inlay":
      return {
        do: "inlay",
        region,
        at,
        crease_deg: s.creaseDeg,
        all: s.allAtHeight,
        clearance_mm: s.gapMm,
        alike,
        ...(s.inlayLayers > 0 ? { layers: s.inlayLayers } : {}),
      };
    case "sink":
      return { do: "sink", at, clearance_mm: s.gapMm, alike, ...(s.isFlush ? {} : { depth_mm: s.sinkMm }) };
    case "split":
      return { do: "split", at, smaller_mm3: s.fragmentMm3, fragments: s.fragments, alike };
  }
}

function planeOf(s: Settings, at: Place, points: Place[]): CutPlane | null {
  if (s.cutBy === "height") return { by: "height", mm: s.cutMm };
  if (s.cutBy === "face") return { by: "face", face: at };
  const [a, b] = points;
  return a && b ? { by: "points", points: [a.point, b.point, at.point] } : null;
}
