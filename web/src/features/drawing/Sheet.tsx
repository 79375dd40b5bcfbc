import { useRef } from "react";
import type { DrawingView } from "../../api/generated/DrawingView";
import type { DrawnBodies } from "../../api/generated/DrawnBodies";
import type { Flatwork } from "../../api/generated/Flatwork";
import { useSize } from "../../ui/useSize";

/** The bodies as the drawing is seen, with what is too thin marked, and how wide it is. */
export function Sheet({
  view,
  work,
  bodies,
  say,
}: {
  view: DrawingView;
  work: Flatwork;
  bodies: DrawnBodies | undefined;
  say: (change: Partial<Flatwork>) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [width, height] = useSize(box, [600, 700]);
  const [low, high] = bodies?.bounds_mm ?? [[0, 0], view.size_mm];
  const across = Math.max(high[0] - low[0], 1e-3);
  const up = Math.max(high[1] - low[1], 1e-3);
  // Room for the measure below and the strip.
  const scale = Math.max(Math.min((width - 96) / across, (height - 210) / up), 1e-3);
  const px = 1 / scale;
  const left = low[0] - (width * px - across) / 2;
  const top = high[1] + (height * px - up) / 2 - 42 * px;
  const place = (e: React.PointerEvent): [number, number] => {
    const r = svg.current?.getBoundingClientRect();
    return [left + (e.clientX - (r?.left ?? 0)) * px, top - (e.clientY - (r?.top ?? 0)) * px];
  };
  const { eyelet } = work;
  // Plates are below everything else, whichever side shows.
  const isPlate = (name: string) => name.startsWith("Base plate");
  const shown = bodies ? [...bodies.bodies.filter((b) => isPlate(b.name)), ...bodies.bodies.filter((b) => !isPlate(b.name))] : [];
  const worst = bodies?.thin[0];
  return (
    <div ref={box} className="absolute inset-0">
      <svg
        ref={svg}
        width={width}
        height={height}
        viewBox={`${left} ${-top} ${width * px} ${height * px}`}
        role="img"
        aria-label="The drawing"
      >
        <g transform="scale(1 -1)">
          {shown.map((b, i) => (
            <path key={i} d={b.path} fill={b.colour} fillRule="nonzero" stroke={b.colour} strokeWidth={0.25 * px}>
              <title>{b.name}</title>
            </path>
          ))}
          {bodies?.thin.slice(0, 24).map((t, i) => (
            <circle key={i} cx={t.at[0]} cy={t.at[1]} r={5 * px} fill="none" stroke="var(--color-wrong)" strokeWidth={1.5 * px} />
          ))}
        </g>
        {worst && (
          <line
            x1={worst.at[0]}
            y1={-worst.at[1] - 5 * px}
            x2={worst.at[0]}
            y2={-worst.at[1] - 34 * px}
            stroke="var(--color-wrong)"
            strokeWidth={px}
          />
        )}
        {worst && (
          <text
            x={worst.at[0]}
            y={-worst.at[1] - 40 * px}
            fontSize={12 * px}
            fontWeight={600}
            fill="var(--color-wrong)"
            stroke="var(--color-paper)"
            strokeWidth={4 * px}
            paintOrder="stroke"
            textAnchor="middle"
          >
            {worst.width_mm.toFixed(2)} mm wide
          </text>
        )}
        {eyelet && (
          <circle
            role="button"
            aria-label="Move the eyelet"
            tabIndex={0}
            className="cursor-move"
            cx={eyelet.at[0]}
            cy={-eyelet.at[1]}
            r={Math.max(eyelet.hole_mm / 2, 6 * px)}
            fill="#fff"
            fillOpacity={0.01}
            stroke="var(--color-plum)"
            strokeWidth={1.5 * px}
            strokeDasharray={`${4 * px} ${3 * px}`}
            onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
            onPointerUp={(e) => {
              if (e.currentTarget.hasPointerCapture(e.pointerId)) say({ eyelet: { ...eyelet, at: place(e) } });
            }}
            onKeyDown={(e) => {
              const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
              if (!by) return;
              e.preventDefault();
              say({ eyelet: { ...eyelet, at: [eyelet.at[0] + (by[0] ?? 0), eyelet.at[1] + (by[1] ?? 0)] } });
            }}
          />
        )}
        <g stroke="var(--color-faint)" strokeWidth={px}>
          <line x1={low[0]} y1={-low[1] + 26 * px} x2={high[0]} y2={-low[1] + 26 * px} />
          <line x1={low[0]} y1={-low[1] + 20 * px} x2={low[0]} y2={-low[1] + 32 * px} />
          <line x1={high[0]} y1={-low[1] + 20 * px} x2={high[0]} y2={-low[1] + 32 * px} />
        </g>
        <text
          x={(low[0] + high[0]) / 2}
          y={-low[1] + 44 * px}
          fontSize={12 * px}
          className="figure"
          fill="var(--color-soft)"
          textAnchor="middle"
        >
          {across.toFixed(1)} mm
        </text>
      </svg>
    </div>
  );
}
