import { useCallback, useEffect, useMemo, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Place } from "../../api/generated/Place";
import { useChanges, useTried } from "../../api/queries";
import { useBench } from "../../state/bench";
import { partEdit } from "./partEdit";
import { useOf } from "../../state/useOf";

/** A pause after which a hover is taken to be meant. */
const pause = 180;

/** Where the pointer is on the model, with the key of the part there. */
export interface OnPart {
  place: Place;
  part: number;
}

/** What the part tool in hand would make where the pointer rests, and what a click does. */
export function usePartWork(job: JobView) {
  const { hand, partTool, settings, region, points, setPoints } = useOf(
    useBench,
    "hand",
    "partTool",
    "settings",
    "region",
    "points",
    "setPoints",
  );
  const { edit } = useChanges(job.id);
  const [hover, setHover] = useState<OnPart | null>(null);
  const [rested, setRested] = useState<OnPart | null>(null);
  const onHovered = useCallback((at: OnPart | null) => {
    const { hand, setPointed } = useBench.getState();
    // Where exactly only matters to what works on parts.
    setHover(hand === "parts" ? at : null);
    setPointed(at?.part ?? null);
  }, []);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(hover), hover ? pause : 0);
    return () => window.clearTimeout(timer);
  }, [hover]);
  const wanted = hand === "parts" && rested ? partEdit(partTool, settings, region, rested.place, points) : null;
  // On one part the answer is the same all over, unless it depends on the face.
  const isSame = partTool === "to-part" || partTool === "split" || (partTool === "cut" && settings.cutBy === "height");
  const spot = isSame ? rested?.part : JSON.stringify(rested?.place);
  const tried = useTried(job.id, job.revision, [partTool, JSON.stringify(settings), region, spot, points.length].join(), wanted);
  const made = wanted ? tried.data : undefined;
  const ghost = useMemo(() => (made && made.corners.length > 0 ? new Float32Array(made.corners) : null), [made]);
  const pick = useCallback(
    (at: Place) => {
      const is = partEdit(partTool, settings, region, at, points);
      if (is) edit({ edit: "part", ...is });
      setPoints(is ? [] : [...points, at]);
    },
    [partTool, settings, region, points, setPoints, edit],
  );
  return { tried: wanted ? tried : null, ghost, pick, onHovered };
}
