import { useCallback, useRef, useState, type PointerEvent as Pointer, type RefObject } from "react";
import type { JobView } from "../../../api/generated/JobView";
import { useChanges } from "../../../api/queries";
import { pointerDrag } from "../../../ui/pointerDrag";
import { joinEdit, sameEnd, type End } from "./ends";

/**
 * Joining by drag, or by taking up one end and then the other with click or keyboard.
 *
 * `held` is the end that was taken up; `loose` is where the free end of a dragged ribbon hangs, in px of the bay.
 */
export function useJoining(job: JobView, bay: RefObject<HTMLElement | null>) {
  const { edit } = useChanges(job.id);
  const [held, setHeld] = useState<End | null>(null);
  const [loose, setLoose] = useState<[number, number] | null>(null);
  const wasDragged = useRef(false);

  const join = useCallback(
    (a: End, b: End) => {
      const is = joinEdit(job, a, b);
      if (is) edit(is);
      return is !== null;
    },
    [job, edit],
  );

  /** Takes an end up, joins it to the one that is held, or lets go of it. */
  const take = useCallback(
    (end: End) => {
      if (wasDragged.current) return;
      if (held && !sameEnd(held, end)) {
        if (join(held, end)) setHeld(null);
        else setHeld(end);
      } else {
        setHeld(held ? null : end);
      }
    },
    [held, join],
  );

  const drag = useCallback(
    (e: Pointer<HTMLElement>, end: End) => {
      wasDragged.current = false;
      if (e.button !== 0 || (e.target as Element).closest("button, input, [role='menuitem']")) return;
      pointerDrag(
        e,
        (at) => {
          const box = bay.current?.getBoundingClientRect();
          wasDragged.current = true;
          setHeld(end);
          if (box) setLoose([at.clientX - box.left, at.clientY - box.top]);
        },
        (dropped) => {
          const onto =
            dropped && document.elementFromPoint(dropped.clientX, dropped.clientY)?.closest<HTMLElement>("[data-end]")?.dataset.end;
          if (onto) join(end, JSON.parse(onto) as End);
          setLoose(null);
          if (wasDragged.current) setHeld(null);
          // The click that ends a drag takes nothing up.
          window.setTimeout(() => (wasDragged.current = false), 0);
        },
      );
    },
    [bay, join],
  );

  return { held, loose, take, drag, letGo: () => setHeld(null) };
}

export type Joining = ReturnType<typeof useJoining>;
