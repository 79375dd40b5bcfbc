import { Vector3 } from "three";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Edit } from "../../api/generated/Edit";
import { stage } from "../../scene/stage";
import { useBench, useTarget } from "../../state/bench";
import { useOf } from "../../state/useOf";

type Point = [number, number];

/** Corners nearer than this to each other say nothing new, px. */
const spacing = 3;

/** A sheet over the bench on which an outline is drawn: held and dragged, or corner by corner. */
export function LassoSheet({ lift, onCommit }: { lift: number; onCommit: (edit: Edit, settled: () => void) => void }) {
  const sheet = useRef<SVGSVGElement>(null);
  const { settings } = useOf(useBench, "settings");
  const region = useTarget();
  const [points, setPoints] = useState<Point[]>([]);
  const [pointer, setPointer] = useState<Point | null>(null);
  const [isHeld, setHeld] = useState(false);
  const isStraight = settings.lassoStraight;

  const place = (e: { clientX: number; clientY: number }): Point => {
    const box = sheet.current?.getBoundingClientRect();
    return [e.clientX - (box?.left ?? 0), e.clientY - (box?.top ?? 0)];
  };
  const close = useCallback(
    (corners: Point[]) => {
      const at = stage();
      const box = sheet.current?.getBoundingClientRect();
      if (!at || !box || corners.length < 3) return setPoints([]);
      const { camera } = at;
      camera.updateMatrixWorld();
      const tall = Math.tan((camera.fov * Math.PI) / 360);
      // From pixels to how far right and up for each mm forward.
      const outline = corners.map(([x, y]): Point => [((2 * x) / box.width - 1) * tall * camera.aspect, (1 - (2 * y) / box.height) * tall]);
      const axis = (k: number) => new Vector3().setFromMatrixColumn(camera.matrixWorld, k).toArray();
      const { x, y, z } = camera.position;
      const sight = { eye: [x, y, z - lift] as [number, number, number], right: axis(0), up: axis(1) };
      onCommit({ edit: "give-lasso", region, outline, sight, through: settings.lassoThrough }, () => setPoints([]));
    },
    [lift, onCommit, region, settings.lassoThrough],
  );
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if (e.key === "Escape") setPoints([]);
      if (e.key === "Enter" && isStraight && points.length >= 3) close(points);
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [isStraight, points, close]);

  const shown = pointer && isStraight && points.length > 0 ? [...points, pointer] : points;
  return (
    <svg
      ref={sheet}
      className="absolute inset-0 size-full cursor-crosshair touch-none"
      aria-label="Outline"
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        const at = place(e);
        if (!isStraight) {
          e.currentTarget.setPointerCapture(e.pointerId);
          setHeld(true);
          setPoints([at]);
          return;
        }
        const [first] = points;
        if (first && points.length >= 3 && Math.hypot(at[0] - first[0], at[1] - first[1]) < 9) close(points);
        else setPoints([...points, at]);
      }}
      onPointerMove={(e) => {
        const at = place(e);
        setPointer(at);
        const last = points.at(-1);
        if (isHeld && last && Math.hypot(at[0] - last[0], at[1] - last[1]) >= spacing) setPoints([...points, at]);
      }}
      onPointerUp={() => {
        if (!isHeld) return;
        setHeld(false);
        close(points);
      }}
      onDoubleClick={() => isStraight && close(points.slice(0, -1))}
      onWheel={(e) => {
        // The wheel still zooms the view below.
        stage()?.dom.dispatchEvent(new WheelEvent("wheel", e.nativeEvent));
      }}
    >
      {shown.length > 0 && (
        <polygon
          points={shown.map((p) => p.join()).join(" ")}
          fill="rgb(106 40 89 / 0.14)"
          stroke="#6a2859"
          strokeWidth="1.6"
          strokeDasharray="5 3"
        />
      )}
      {isStraight &&
        points.map(([x, y], i) => <circle key={i} cx={x} cy={y} r={i === 0 ? 5 : 3} fill="#fff" stroke="#6a2859" strokeWidth="1.6" />)}
    </svg>
  );
}
