import { useCallback, useEffect, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PartEdit } from "../../api/generated/PartEdit";
import type { Place } from "../../api/generated/Place";
import { useTried } from "../../api/queries";
import { useBench } from "../../state/bench";
import { partEdit } from "./partEdit";

/** A pause after which a hover is taken to be meant. */
const pause = 180;

/** What the part tool in hand would make where the pointer rests, and what a click does. */
export function usePartWork(job: JobView, hover: { place: Place; part: number } | null, commit: (edit: PartEdit) => void) {
  const { hand, partTool, settings, region, points, setPoints } = useBench();
  const isOn = hand === "parts";
  const [rested, setRested] = useState<typeof hover>(null);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(hover), hover ? pause : 0);
    return () => window.clearTimeout(timer);
  }, [hover]);
  const wanted = isOn && rested ? partEdit(partTool, settings, region, rested.place, points) : null;
  // On one part the answer is the same all over, unless it depends on the face.
  const spot = partTool === "to-part" || partTool === "split" || (partTool === "cut" && settings.cutBy === "height") ? rested?.part : JSON.stringify(rested?.place);
  const tried = useTried(job.id, job.revision, [partTool, JSON.stringify(settings), region, spot, points.length].join(), wanted);
  const pick = useCallback(
    (at: Place) => {
      const edit = partEdit(partTool, settings, region, at, points);
      if (edit) {
        commit(edit);
        setPoints([]);
      } else {
        setPoints([...points, at]);
      }
    },
    [partTool, settings, region, points, setPoints, commit],
  );
  return { tried: wanted ? tried : null, pick };
}
