import { useCallback, useEffect, type RefObject } from "react";
import { useScore } from "../../state/score";
import { useOf } from "../../state/useOf";

/** The least height that is shown, mm: a few layers. */
const closest = 1;

/** The heights a score shows, and changing them by wheel: plain zooms at the pointer, Shift or sideways scrolls. */
export function useZoom(host: RefObject<HTMLElement | null>, high: number, left: number, right: number) {
  const { window: shown, setWindow } = useOf(useScore, "window", "setWindow");
  const from = Math.max(0, Math.min(shown?.[0] ?? 0, high - closest));
  const to = Math.min(high, Math.max(shown?.[1] ?? high, from + Math.min(closest, high)));
  const show = useCallback(
    (low: number, top: number) => {
      const size = Math.min(high, Math.max(Math.min(closest, high), top - low));
      const start = Math.min(Math.max(0, low), high - size);
      setWindow(size >= high - 1e-6 ? null : [start, start + size]);
    },
    [high, setWindow],
  );
  const zoom = useCallback((by: number, at: number) => show(at - (at - from) * by, at + (to - at) * by), [show, from, to]);
  const scroll = useCallback((by: number) => show(from + by * (to - from), to + by * (to - from)), [show, from, to]);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const box = element.getBoundingClientRect();
      const share = (e.clientX - box.left - left) / Math.max(1, box.width - left - right);
      if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) scroll(Math.sign(e.deltaX || e.deltaY) * 0.12);
      else zoom(e.deltaY > 0 ? 1.2 : 1 / 1.2, from + Math.min(1, Math.max(0, share)) * (to - from));
    };
    // Not as a property: React's own wheel listeners cannot keep the page from scrolling.
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [host, left, right, from, to, zoom, scroll]);
  return { from, to, zoom, scroll, all: () => setWindow(null), isAll: shown === null };
}
