import { useEffect, useState, type RefObject } from "react";

/** Width of an element in px, kept up to date. */
export function useWidth(host: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(1280);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  });
  return width;
}
