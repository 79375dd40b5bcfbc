import { useCallback, useRef, useState, type PointerEvent as Pointer, type RefObject } from "react";
import type { JobView } from "../../../api/generated/JobView";
import { useChanges } from "../../../api/queries";
import { joinEdit, sameEnd, type End } from "./ends";

/** Less is a click. */
const slack = 5;

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
      const from = { x: e.clientX, y: e.clientY };
      const done = new AbortController();
      const options = { signal: done.signal };
      const stop = () => {
        done.abort();
        setLoose(null);
        if (wasDragged.current) setHeld(null);
        // The click that ends a drag takes nothing up.
        window.setTimeout(() => (wasDragged.current = false), 0);
      };
      window.addEventListener(
        "pointermove",
        (move) => {
          if (!wasDragged.current && Math.hypot(move.clientX - from.x, move.clientY - from.y) < slack) return;
          const box = bay.current?.getBoundingClientRect();
          wasDragged.current = true;
          setHeld(end);
          if (box) setLoose([move.clientX - box.left, move.clientY - box.top]);
        },
        options,
      );
      window.addEventListener(
        "pointerup",
        (up) => {
          const onto = document.elementFromPoint(up.clientX, up.clientY)?.closest<HTMLElement>("[data-end]")?.dataset.end;
          if (wasDragged.current && onto) {
            const other = JSON.parse(onto) as End;
            if (!sameEnd(end, other)) join(end, other);
          }
          stop();
        },
        options,
      );
      window.addEventListener("pointercancel", stop, options);
      window.addEventListener("keydown", (press) => press.key === "Escape" && stop(), options);
    },
    [bay, join],
  );

  return { held, loose, take, drag, letGo: () => setHeld(null) };
}

export type Joining = ReturnType<typeof useJoining>;
