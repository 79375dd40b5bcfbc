import { scaleLinear } from "d3-scale";
import { useCallback, useMemo, useRef, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { useBench } from "../../state/bench";
import { fixed } from "../../ui/format";
import { bands, swapLines, type Row } from "./scorePaths";
import { useLatestPlan } from "./useLatestPlan";
import { useWidth } from "./useWidth";

const left = 172;
const right = 24;
const top = 26;
const foot = 34;

/** The chart of layers against slots with every swap drawn. The cursor is dragged, hovered or moved by keys. */
export function SwapScore({ job, plan, height }: { job: JobView; plan: PlanView | undefined; height: number }) {
  const latest = useLatestPlan(plan);
  const host = useRef<HTMLDivElement>(null);
  const width = useWidth(host);
  const { layer, setLayer } = useBench();
  const [isDragging, setDragging] = useState(false);
  const layers = latest?.plan.layers;
  const used = useMemo(() => [...new Set(layers?.flatMap((l) => l.order) ?? [])].sort((a, b) => a - b), [layers]);
  const rows: Row[] = useMemo(() => {
    const gap = (height - top - foot) / Math.max(used.length, 1);
    return used.map((slot, i) => ({ slot, y: top + gap * (i + 0.5), half: Math.min(11, gap * 0.36) }));
  }, [used, height]);
  const high = layers?.at(-1)?.z1_mm ?? 1;
  const x = useMemo(() => scaleLinear([0, high], [left, Math.max(width - right, left + 10)]), [high, width]);
  const blocks = useMemo(() => (layers ? bands(layers, rows, x) : []), [layers, rows, x]);
  const swaps = useMemo(() => (latest ? swapLines(latest.plan.swaps, rows, x) : ""), [latest, rows, x]);
  const seek = useCallback(
    (clientX: number) => {
      const box = host.current?.getBoundingClientRect();
      if (!box || !layers?.length) return;
      const z = x.invert(clientX - box.left);
      const at = layers.findIndex((l) => z < l.z1_mm);
      setLayer(at < 0 ? layers.length - 1 : at);
    },
    [layers, setLayer, x],
  );
  if (!layers || !latest) {
    return (
      <div className="grid h-full place-items-center text-soft" role="status">
        {plan?.state === "stopped" ? "No score yet: planning was stopped" : plan?.state === "failed" ? plan.problem.message : "Working out the layers"}
      </div>
    );
  }
  const at = Math.min(layer, layers.length - 1);
  const here = layers[at];
  const cursor = here ? x(0.5 * (here.z0_mm + here.z1_mm)) : left;
  const tag = here ? `${fixed(here.z1_mm, 1)} mm · L${at + 1}` : "";
  const tagWidth = 10 + tag.length * 6.7;
  const tagX = Math.min(Math.max(cursor - tagWidth / 2, left), width - right - tagWidth);
  const isStale = plan?.state !== "ready" || plan.revision < job.revision;
  return (
    <div ref={host} className={`relative h-full select-none ${isStale ? "opacity-60" : ""}`} aria-busy={isStale}>
      {rows.map((row) => {
        const slot = job.slots[row.slot - 1];
        return (
          <div key={row.slot} className="absolute left-3.5 flex items-center gap-2" style={{ top: row.y - 14, width: left - 24 }}>
            <span className="size-[18px] shrink-0 rounded-[4px] border border-black/30" style={{ background: slot?.colour }} />
            <span className="min-w-0 leading-[1.15]">
              <span className="block truncate text-[12px] font-semibold" title={slot?.spool?.name ?? "No spool"}>{slot?.spool?.name ?? "No spool"}</span>
              <span className="figure block text-[11px] text-soft">slot {row.slot}</span>
            </span>
          </div>
        );
      })}
      <svg
        width={width}
        height={height}
        role="slider"
        tabIndex={0}
        aria-label="Layer of the swap score"
        aria-valuemin={1}
        aria-valuemax={layers.length}
        aria-valuenow={at + 1}
        aria-valuetext={tag}
        className="group absolute inset-0 cursor-ew-resize outline-none"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          setDragging(true);
          seek(e.clientX);
        }}
        onPointerMove={(e) => isDragging && seek(e.clientX)}
        onPointerUp={() => setDragging(false)}
        onKeyDown={(e) => {
          const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[e.key];
          const to = e.key === "Home" ? 0 : e.key === "End" ? layers.length - 1 : by === undefined ? null : at + by;
          if (to === null) return;
          e.preventDefault();
          setLayer(Math.min(Math.max(to, 0), layers.length - 1));
        }}
      >
        <defs>
          {rows.map((row, i) => (
            <pattern key={row.slot} id={`slot-${row.slot}`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform={`rotate(${[0, 45, 90, 135][i % 4]})`}>
              <path d={i % 4 === 0 ? "" : "M0 0V6"} stroke="#000" strokeOpacity="0.28" strokeWidth="1.6" />
              <path d={i % 4 === 0 ? "" : "M1.4 0V6"} stroke="#fff" strokeOpacity="0.22" strokeWidth="1" />
            </pattern>
          ))}
        </defs>
        {rows.map((row) => <line key={row.slot} x1={left} x2={width - right} y1={row.y} y2={row.y} stroke="#e2e2df" />)}
        {blocks.map((b) => (
          <g key={b.slot}>
            <path d={b.path} fill={job.slots[b.slot - 1]?.colour ?? "#888"} stroke="#00000040" strokeWidth="0.6" />
            <path d={b.path} fill={`url(#slot-${b.slot})`} />
          </g>
        ))}
        <path d={swaps} stroke="#1d1d1f" strokeOpacity="0.75" strokeWidth="0.9" fill="none" data-testid="swaps" />
        {x.ticks(8).map((t) => (
          <g key={t} transform={`translate(${x(t)} ${height - foot + 4})`}>
            <line y2="4" stroke="#76787c" />
            <text y="15" textAnchor="middle" className="figure" fontSize="11" fill="#5d5f63">{t}</text>
          </g>
        ))}
        <text x={width - right} y={height - 3} textAnchor="end" fontSize="11" fill="#5d5f63">height, mm</text>
        <text x={14} y={height - foot + 19} fontSize="12" fontWeight="600" fill="#5d5f63">Swap score</text>
        <line x1={cursor} x2={cursor} y1={18} y2={height - foot + 4} stroke="#6a2859" strokeWidth="1.6" className="group-focus-visible:[stroke-width:3]" />
        <rect x={tagX} y={2} width={tagWidth} height={17} rx="2" fill="#6a2859" className="group-focus-visible:[stroke:#1d1d1f] group-focus-visible:[stroke-width:2]" />
        <text x={tagX + tagWidth / 2} y={14} textAnchor="middle" className="figure" fontSize="11" fill="#fff">{tag}</text>
      </svg>
    </div>
  );
}
