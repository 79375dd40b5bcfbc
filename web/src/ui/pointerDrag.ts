import type { PointerEvent as Pointer } from "react";

/** Less is a click. */
const slack = 5;

/**
 * Follows a pressed pointer, mouse, pen or touch, until it is let go. Nothing is told before it has moved by more than a
 * click does. `end` is told once: where it was dropped, or nothing if Escape or the system ended the drag, or if there
 * was none.
 */
export function pointerDrag(e: Pointer<Element>, move: (at: PointerEvent) => void, end: (dropped: PointerEvent | null) => void): void {
  const from = { x: e.clientX, y: e.clientY };
  let isDragging = false;
  const done = new AbortController();
  const options = { signal: done.signal };
  const finish = (dropped: PointerEvent | null) => {
    done.abort();
    end(isDragging ? dropped : null);
  };
  window.addEventListener(
    "pointermove",
    (at) => {
      if (!isDragging && Math.hypot(at.clientX - from.x, at.clientY - from.y) < slack) return;
      isDragging = true;
      move(at);
    },
    options,
  );
  window.addEventListener("pointerup", finish, options);
  window.addEventListener("pointercancel", () => finish(null), options);
  window.addEventListener("keydown", (press) => press.key === "Escape" && finish(null), options);
}
