import { createRoot, events, extend, type ReconcilerRoot } from "@react-three/fiber";
import { QueryClientProvider, useQueryClient } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useRef, useState, type ReactNode } from "react";
import {
  CircleGeometry,
  ConeGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
  SphereGeometry,
} from "three";

// Only what the bench draws with: the library's own canvas would bring every class of the 3D library along, which is
// a fifth of all scripts.
extend({ CircleGeometry, ConeGeometry, SphereGeometry, Group, LineBasicMaterial, LineSegments, Mesh, MeshBasicMaterial, PlaneGeometry });

/** The drawing surface of the bench: fills its parent, draws on demand. */
export function BenchCanvas({ background, fov, children }: { background: string; fov: number; children: ReactNode }) {
  const host = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const root = useRef<ReconcilerRoot<HTMLCanvasElement> | null>(null);
  const queries = useQueryClient();
  const [size, setSize] = useState<{ width: number; height: number; top: number; left: number } | null>(null);
  const [isReady, setReady] = useState(false);
  useLayoutEffect(() => {
    const element = host.current;
    if (!element) return;
    const measure = () => {
      const { width, height, top, left } = element.getBoundingClientRect();
      setSize((s) =>
        s && s.width === width && s.height === height && s.top === top && s.left === left ? s : { width, height, top, left },
      );
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  useLayoutEffect(() => {
    if (!canvas.current || !size || size.width === 0 || size.height === 0) return;
    root.current ??= createRoot(canvas.current);
    const configured = root.current.configure({
      size,
      events,
      frameloop: "demand",
      flat: true,
      camera: { fov },
      gl: { antialias: true },
      onCreated: (state) => {
        if (host.current) state.events.connect?.(host.current);
      },
    });
    void Promise.resolve(configured).then(() => setReady(true));
  }, [size, fov]);
  useEffect(() => {
    if (isReady) root.current?.render(<QueryClientProvider client={queries}>{children}</QueryClientProvider>);
  });
  useEffect(
    () => () => {
      root.current?.unmount();
      root.current = null;
    },
    [],
  );
  return (
    <div ref={host} className="absolute inset-0 overflow-hidden" style={{ background }}>
      <canvas ref={canvas} className="block" aria-label="Bench" />
    </div>
  );
}
