import type { ScaleLinear } from "d3-scale";

/** Where a key takes the layer of a score; none for keys that mean something else. */
export function layerByKey(key: string, at: number, count: number): number | null {
  const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[key];
  const next = key === "Home" ? 0 : key === "End" ? count - 1 : by === undefined ? null : at + by;
  return next === null ? null : Math.min(Math.max(next, 0), count - 1);
}

/** Heights below a score. `right`: where the word ends, px. */
export function HeightTicks({ x, y, right, foot }: { x: ScaleLinear<number, number>; y: number; right: number; foot: number }) {
  return (
    <>
      {x.ticks(8).map((t) => (
        <g key={t} transform={`translate(${x(t)} ${y})`}>
          <line y2="4" stroke="#76787c" />
          <text y="15" textAnchor="middle" className="figure" fontSize="11" fill="#5d5f63">
            {t}
          </text>
        </g>
      ))}
      <text x={right} y={foot} textAnchor="end" fontSize="11" fill="#5d5f63">
        height, mm
      </text>
    </>
  );
}

/** The line at the layer on show, with its height and number at its head, kept between two sides, px. */
export function LayerCursor({ x, tag, low, high, bottom }: { x: number; tag: string; low: number; high: number; bottom: number }) {
  const width = 10 + tag.length * 6.7;
  const at = Math.min(Math.max(x - width / 2, low), high - width);
  return (
    <>
      <line x1={x} x2={x} y1={18} y2={bottom} stroke="#6a2859" strokeWidth="1.6" className="group-focus-visible:[stroke-width:3]" />
      <rect
        x={at}
        y={2}
        width={width}
        height={17}
        rx="2"
        fill="#6a2859"
        className="group-focus-visible:[stroke:#1d1d1f] group-focus-visible:[stroke-width:2]"
      />
      <text x={at + width / 2} y={14} textAnchor="middle" className="figure" fontSize="11" fill="#fff">
        {tag}
      </text>
    </>
  );
}
