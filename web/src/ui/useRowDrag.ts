import { useCallback, useState, type PointerEvent as Pointer, type RefObject } from "react";

/** Where a dragged row would go: beside another, above or below it. */
export interface RowGap {
  key: number;
  above: boolean;
}

/** Less is a click. */
const slack = 4;

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
      const from = { x: e.clientX, y: e.clientY };
      let isDragging = false;
      let to: RowGap | null = null;
      const done = new AbortController();
      const options = { signal: done.signal };
      const end = (isDropped: boolean) => {
        done.abort();
        setGap(null);
        if (!isDragging) return;
        // The click that follows is part of the drag.
        window.addEventListener("click", (click) => click.stopPropagation(), { capture: true, once: true, signal: AbortSignal.timeout(50) });
        if (isDropped && to) drop(key, to);
      };
      window.addEventListener(
        "pointermove",
        (move) => {
          if (!isDragging && Math.hypot(move.clientX - from.x, move.clientY - from.y) < slack) return;
          isDragging = true;
          field?.blur();
          const row = document.elementFromPoint(move.clientX, move.clientY)?.closest<HTMLElement>("[data-row]");
          const onto = Number(row?.dataset.row);
          const box = row?.getBoundingClientRect();
          to = box && list.current?.contains(row ?? null) && onto !== key ? { key: onto, above: move.clientY < box.top + box.height / 2 } : null;
          setGap(to);
        },
        options,
      );
      window.addEventListener("pointerup", () => end(true), options);
      window.addEventListener("pointercancel", () => end(false), options);
      window.addEventListener("keydown", (press) => press.key === "Escape" && end(false), options);
    },
    [list, drop],
  );
  return { gap, start };
}
