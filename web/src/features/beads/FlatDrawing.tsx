import { useEffect, useMemo, useRef, useState } from "react";
import { isPull, TRAVEL, type LayerMoves, type MoveData } from "../../api/moveData";
import { coloursOf, speedsOf, type BeadsBy } from "../../scene/beads/colours";
import { FlatBeads, type FlatView } from "../../scene/beads/flat";
import { useSize } from "../../ui/useSize";
import type { Played } from "./usePlayed";

/** Before the page has its sizes. */
const nothing: [number, number] = [0, 0];

/** Room left free at the sides, and at the head, where words and buttons stand, px. */
const margin = { side: 28, head: 44 };

/** Number of the tower among the kinds of beads. */
const TOWER = 9;

/** Low and high corner of all that stays, of all layers, so that layers do not jump. */
function boundsOf(data: MoveData, hasTower: boolean): [number, number, number, number] {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 1; i < data.count; i++) {
    const kind = data.kinds[i] ?? TRAVEL;
    if (kind >= TRAVEL || (kind >= 6 && kind <= TOWER && !(hasTower && kind === TOWER))) continue;
    for (const j of [i - 1, i]) {
      const [x, y] = [data.places[3 * j] ?? 0, data.places[3 * j + 1] ?? 0];
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
    }
  }
  return x0 > x1 ? [0, 0, 1, 1] : [x0, y0, x1, y1];
}

/** One layer from above, bead by bead. The wheel zooms, a drag moves, a double click shows all of it. */
export function FlatDrawing({
  data,
  layer,
  played,
  by,
  colours,
  hasTravel,
  hasSeams,
  hasTower,
  mark,
  onMark,
}: {
  data: MoveData;
  layer: LayerMoves;
  played: Played;
  by: BeadsBy;
  colours: readonly string[];
  hasTravel: boolean;
  hasSeams: boolean;
  hasTower: boolean;
  /** A place that is pointed out, mm. */
  mark: [number, number] | null;
  /** Takes a place that is clicked, mm; none where clicks mean nothing. */
  onMark: ((at: [number, number]) => void) | null;
}) {
  const pressed = useRef<[number, number]>(nothing);
  const host = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const beads = useRef<FlatBeads | null>(null);
  const [cannot, setCannot] = useState(false);
  const [moved, setMoved] = useState({ x: 0, y: 0, zoom: 1 });
  const bounds = useMemo(() => boundsOf(data, hasTower), [data, hasTower]);
  const speeds = useMemo(() => speedsOf(data), [data]);
  const [w, h] = useSize(host, nothing);
  const [x0, y0, x1, y1] = bounds;
  const fit = Math.max(
    1e-3,
    Math.min((w - 2 * margin.side) / Math.max(x1 - x0, 1e-3), (h - margin.side - margin.head) / Math.max(y1 - y0, 1e-3)),
  );
  const scale = fit * moved.zoom;
  const down = (margin.head - margin.side) / 2 / fit;
  const middle: [number, number] = [(x0 + x1) / 2 + moved.x, (y0 + y1) / 2 + moved.y + down];
  const { places, tints } = useMemo(() => {
    const count = layer.moves.length;
    const places = new Float32Array(5 * count);
    const at = { length: count, at: (n: number) => layer.moves[n] ?? 0 };
    const tints = coloursOf(data, at, by, colours, speeds);
    for (let n = 0; n < count; n++) {
      const i = layer.moves[n] ?? 0;
      const before = Math.max(i - 1, 0);
      places[5 * n] = data.places[3 * before] ?? 0;
      places[5 * n + 1] = data.places[3 * before + 1] ?? 0;
      places[5 * n + 2] = data.places[3 * i] ?? 0;
      places[5 * n + 3] = data.places[3 * i + 1] ?? 0;
      const isTravel = (data.kinds[i] ?? 0) >= TRAVEL;
      places[5 * n + 4] = isTravel ? 0 : (data.widths[i] ?? 0) / 1000;
      if (isTravel && !hasTravel) tints[4 * n + 3] = 0;
    }
    return { places, tints };
  }, [data, layer, by, colours, hasTravel, speeds]);
  const marks = useMemo(() => {
    if (!hasSeams) return [];
    const found: { x: number; y: number; what: "seam" | "pull" }[] = [];
    for (let n = 1; n < layer.moves.length && found.length < 4000; n++) {
      const i = layer.moves[n] ?? 0;
      const [x, y] = [data.places[3 * (i - 1)] ?? 0, data.places[3 * (i - 1) + 1] ?? 0];
      if (isPull(data, i)) found.push({ x, y, what: "pull" });
      else if (data.kinds[i] === 0 && data.kinds[i - 1] !== 0) found.push({ x, y, what: "seam" });
    }
    return found;
  }, [data, layer, hasSeams]);
  useEffect(() => {
    if (!canvas.current) return;
    beads.current ??= FlatBeads.on(canvas.current);
    if (!beads.current) setCannot(true);
    beads.current?.take(places, tints);
  }, [places, tints]);
  useEffect(() => {
    const element = canvas.current;
    if (!element || !beads.current || w === 0) return;
    const ratio = window.devicePixelRatio || 1;
    const [pw, ph] = [Math.round(w * ratio), Math.round(h * ratio)];
    if (element.width !== pw) element.width = pw;
    if (element.height !== ph) element.height = ph;
    const view: FlatView = { middle: [middle[0], middle[1]], scale: scale * ratio };
    beads.current.draw(view, played.shown, played.tip);
  });
  const px = (x: number) => w / 2 + (x - middle[0]) * scale;
  const py = (y: number) => h / 2 - (y - middle[1]) * scale;
  return (
    <div
      ref={host}
      className={`absolute inset-0 touch-none overflow-hidden ${onMark ? "cursor-crosshair" : ""}`}
      onWheel={(e) => {
        const by = Math.exp(-e.deltaY / 400);
        const box = e.currentTarget.getBoundingClientRect();
        const [cx, cy] = [e.clientX - box.left - w / 2, h / 2 - (e.clientY - box.top)];
        setMoved((m) => {
          const zoom = Math.min(Math.max(m.zoom * by, 0.3), 200);
          const [old, now] = [fit * m.zoom, fit * zoom];
          return { zoom, x: m.x + cx / old - cx / now, y: m.y + cy / old - cy / now };
        });
      }}
      onDoubleClick={() => setMoved({ x: 0, y: 0, zoom: 1 })}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        pressed.current = [e.clientX, e.clientY];
      }}
      onPointerUp={(e) => {
        // What was dragged was not clicked.
        if (!onMark || Math.hypot(e.clientX - pressed.current[0], e.clientY - pressed.current[1]) > 4) return;
        const box = e.currentTarget.getBoundingClientRect();
        onMark([middle[0] + (e.clientX - box.left - w / 2) / scale, middle[1] + (h / 2 - (e.clientY - box.top)) / scale]);
      }}
      onPointerMove={(e) => {
        if (e.buttons !== 1) return;
        const [dx, dy] = [e.movementX / scale, e.movementY / scale];
        setMoved((m) => ({ ...m, x: m.x - dx, y: m.y + dy }));
      }}
    >
      <canvas ref={canvas} className="absolute inset-0" style={{ width: w, height: h }} aria-label="Drawing of beads" />
      <svg className="pointer-events-none absolute inset-0" width={w} height={h} aria-hidden>
        {marks.map((m, i) => (
          <circle
            key={i}
            cx={px(m.x)}
            cy={py(m.y)}
            r={m.what === "seam" ? 3 : 2}
            fill={m.what === "seam" ? "#6b2758" : "none"}
            stroke={m.what === "seam" ? "#fff" : "#323438"}
            strokeWidth={1}
          />
        ))}
        {mark && (
          <g data-mark transform={`translate(${px(mark[0])} ${py(mark[1])})`} fill="none">
            {["#fff", "var(--color-wrong)"].map((stroke, i) => (
              <path
                key={stroke}
                d="M-9 0a9 9 0 1 0 18 0a9 9 0 1 0-18 0M-15 0h9M15 0h-9M0-15v9M0 15v-9"
                stroke={stroke}
                strokeWidth={4 - 2 * i}
              />
            ))}
          </g>
        )}
        {played.tip && <circle cx={px(played.tip[0])} cy={py(played.tip[1])} r={5} fill="none" stroke="#6b2758" strokeWidth={2} />}
      </svg>
      {cannot && (
        <p className="absolute inset-x-0 top-1/2 text-center text-soft" role="alert">
          This browser cannot draw on the graphics card, so beads are not shown.
        </p>
      )}
    </div>
  );
}
