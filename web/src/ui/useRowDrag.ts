import { useCallback, useState, type PointerEvent as Pointer, type RefObject } from "react";
import { pointerDrag } from "./pointerDrag";

/** Where a dragged row would go: beside another, above or below it. */
export interface RowGap {
  key: number;
  above: boolean;
}

/**
 * Rows of a list moved by the pointer: mouse, pen or touch. Rows carry `data-row` with their key; Escape lets go.
 * `drop` is called with the key of the row and where it goes.
 */
export function useRowDrag(list: RefObject<HTMLElement | null>, drop: (key: number, to: RowGap) => void) {
  const [gap, setGap] = useState<RowGap | null>(null);
  const start = useCallback(
    (e: Pointer<HTMLElement>, key: number) => {
      const field = (e.target as Element).closest("input");
      // In a name that is being typed, the pointer chooses text.
      if (e.button !== 0 || (e.target as Element).closest("button") || (field && field === document.activeElement)) return;
      let isDragging = false;
      let to: RowGap | null = null;
      pointerDrag(
        e,
        (at) => {
          isDragging = true;
          field?.blur();
          const row = document.elementFromPoint(at.clientX, at.clientY)?.closest<HTMLElement>("[data-row]");
          const onto = Number(row?.dataset.row);
          const box = row?.getBoundingClientRect();
          to =
            box && list.current?.contains(row ?? null) && onto !== key ? { key: onto, above: at.clientY < box.top + box.height / 2 } : null;
          setGap(to);
        },
        (dropped) => {
          setGap(null);
          if (!isDragging) return;
          // The click that follows is part of the drag.
          window.addEventListener("click", (click) => click.stopPropagation(), {
            capture: true,
            once: true,
            signal: AbortSignal.timeout(50),
          });
          if (dropped && to) drop(key, to);
        },
      );
    },
    [list, drop],
  );
  return { gap, start };
}
