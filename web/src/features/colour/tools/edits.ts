import type { Edit } from "../../../api/generated/Edit";
import type { Place } from "../../../api/generated/Place";
import type { Settings, Tool } from "../../../state/bench";

/** What a click with a tool asks for; none for tools that are drawn. */
export function clickEdit(tool: Tool, s: Settings, region: string, at: Place): Edit | null {
  switch (tool) {
    case "patch":
      return {
        edit: "give-patch",
        region,
        at,
        crease_deg: s.creaseDeg,
        within: s.within,
        ...(s.turnDeg === null ? {} : { turn_deg: s.turnDeg }),
      };
    case "relief":
      return { edit: "give-relief", region, at, crease_deg: s.creaseDeg, all: s.allAtHeight };
    case "facet":
      return { edit: "give-facets", region, at: [at], flat: s.flat };
    case "part":
      return { edit: "give-part", region, at };
    case "alike":
      return { edit: "give-alike", region, at, to: s.alikeTo, crease_deg: s.creaseDeg };
    case "dab":
    case "dip":
    case "band":
    case "lasso":
      return null;
  }
}

/** A band as the fields have it, or between two heights that were dragged. */
export function bandEdit(s: Settings, region: string, at: Place | null, heights?: [number, number]): Edit {
  const [low, high] = heights ?? [s.bandLow, s.bandHigh];
  return {
    edit: "give-band",
    region,
    low_mm: Math.min(low, high),
    high_mm: Math.max(low, high),
    snap: s.bandSnap,
    count: heights ? 1 : s.bandCount,
    pitch_mm: s.bandPitch,
    ...(at && s.bandOnPart ? { at } : {}),
  };
}

/** Tools that are drawn over the model with the button held. */
export const isDrawn = (tool: Tool) => tool === "dab" || tool === "dip" || tool === "facet" || tool === "band";
