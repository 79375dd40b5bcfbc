import { useEffect, useState, type RefObject } from "react";

/** Width and height of an element, px, as they change. */
export function useSize(host: RefObject<HTMLElement | null>, first: [number, number]): [number, number] {
  const [size, setSize] = useState<[number, number]>(first);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize([element.clientWidth, element.clientHeight]));
    observer.observe(element);
    return () => observer.disconnect();
  }, [host]);
  return size;
}
