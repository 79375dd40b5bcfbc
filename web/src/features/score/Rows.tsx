import type { ScaleLinear } from "d3-scale";
import { useMemo } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanReload } from "../../api/generated/PlanReload";
import { slotColour } from "./names";
import { bands, swapLines, type Row, type ScoreLayer, type ScoreSwap } from "./scorePaths";

/** Bars of all slots, the swaps between them, and what is put in by hand. */
export function Rows({
  job,
  layers,
  swaps,
  reloads = [],
  rows,
  x,
  from,
  to,
  id,
}: {
  job: JobView;
  layers: ScoreLayer[];
  swaps: ScoreSwap[];
  reloads?: PlanReload[];
  rows: Row[];
  x: ScaleLinear<number, number>;
  from: number;
  to: number;
  id: string;
}) {
  const blocks = useMemo(() => bands(layers, rows, x), [layers, rows, x]);
  const lines = useMemo(() => swapLines(swaps, rows, x), [swaps, rows, x]);
  const y = new Map(rows.map((r) => [r.slot, r.y]));
  const [x0, x1] = [x(from), x(to)];
  return (
    <>
      <defs>
        <clipPath id={`${id}-clip`}>
          <rect x={x0} y={0} width={Math.max(0, x1 - x0)} height={600} />
        </clipPath>
        {rows.map((row, i) => (
          <pattern
            key={row.slot}
            id={`${id}-${row.slot}`}
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${[0, 45, 90, 135][i % 4]})`}
          >
            <path d={i % 4 === 0 ? "" : "M0 0V6"} stroke="#000" strokeOpacity="0.28" strokeWidth="1.6" />
            <path d={i % 4 === 0 ? "" : "M1.4 0V6"} stroke="#fff" strokeOpacity="0.22" strokeWidth="1" />
          </pattern>
        ))}
      </defs>
      {rows.map((row) => (
        <line key={row.slot} x1={x0} x2={x1} y1={row.y} y2={row.y} stroke="#e2e2df" />
      ))}
      <g clipPath={`url(#${id}-clip)`}>
        {blocks.map((b) => (
          <g key={b.slot}>
            <path d={b.path} fill={slotColour(job, b.slot)} stroke="#00000040" strokeWidth="0.6" />
            <path d={b.path} fill={`url(#${id}-${b.slot})`} />
          </g>
        ))}
        <path d={lines} stroke="#1d1d1f" strokeOpacity="0.75" strokeWidth="0.9" fill="none" />
        {reloads.map((r, i) => (
          <g key={i} transform={`translate(${x(layers[r.layer]?.z0_mm ?? 0)} ${y.get(r.slot) ?? 0})`}>
            <title>
              Slot {r.slot} is put into place {r.place} by hand
            </title>
            <circle r={reloads.length > 30 ? 2.2 : 4} fill="#fff" stroke="#8f5800" strokeWidth="1.4" />
          </g>
        ))}
      </g>
    </>
  );
}
