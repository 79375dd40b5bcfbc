import { scaleLinear } from "d3-scale";
import { useCallback, useMemo, useRef, useState, type PointerEvent } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import type { Snag } from "../../api/generated/Snag";
import type { Swap } from "../../api/generated/Swap";
import { useBench } from "../../state/bench";
import { useScore } from "../../state/score";
import { counted, fixed } from "../../ui/format";
import { ChangeLines } from "./ChangeLines";
import { Rows } from "./Rows";
import { Explained } from "../words/Explained";
import { HeightTicks, LayerCursor, layerByKey } from "./ScoreParts";
import { ScoreTools } from "./ScoreTools";
import { SpanSummary } from "./SpanSummary";
import { SwapTip } from "./SwapTip";
import { swapAt, type Row } from "./scorePaths";
import { useLatestPlan } from "./useLatestPlan";
import { useWidth } from "./useWidth";
import { useZoom } from "./useZoom";
import { useOf } from "../../state/useOf";

const left = 172;
const right = 24;
const top = 26;

/**
 * The chart of layers against slots with every swap drawn. The cursor is dragged or moved by keys; dragging along the
 * heights, or with Shift, selects layers; the wheel zooms and scrolls.
 */
export function SwapScore({ job, plan, height, snags = [] }: { job: JobView; plan: PlanView | undefined; height: number; snags?: Snag[] }) {
  const latest = useLatestPlan(plan);
  const host = useRef<HTMLDivElement>(null);
  const width = useWidth(host);
  const { layer, setLayer, snag } = useOf(useBench, "layer", "setLayer", "snag");
  const { span, setSpan, pinned } = useOf(useScore, "span", "setSpan", "pinned");
  // The selection is told below the heights.
  const foot = span ? 48 : 34;
  const [drag, setDrag] = useState<"scrub" | { from: number } | null>(null);
  const [hovered, setHovered] = useState<{ swap: Swap; x: number } | null>(null);
  const layers = latest?.plan.layers;
  const before = pinned?.job === job.id && pinned.plan.revision !== latest?.revision ? pinned.plan.plan : null;
  const used = useMemo(
    () => [...new Set([...(layers ?? []), ...(before?.layers ?? [])].flatMap((l) => l.order))].sort((a, b) => a - b),
    [layers, before],
  );
  const [rows, rowsBefore] = useMemo(() => {
    const whole = height - top - foot;
    const half = before ? whole / 2 : whole;
    const of = (start: number): Row[] => {
      const gap = half / Math.max(used.length, 1);
      return used.map((slot, i) => ({ slot, y: start + gap * (i + 0.5), half: Math.min(11, gap * 0.36) }));
    };
    return [of(before ? top + half : top), of(top)];
  }, [used, height, before, foot]);
  const high = Math.max(layers?.at(-1)?.z1_mm ?? 1, before?.layers.at(-1)?.z1_mm ?? 0);
  const { from, to, zoom, scroll, all, isAll } = useZoom(host, high, left, right);
  const x = useMemo(() => scaleLinear([from, to], [left, Math.max(width - right, left + 10)]), [from, to, width]);
  const layerAt = useCallback(
    (clientX: number) => {
      const box = host.current?.getBoundingClientRect();
      if (!box || !layers?.length) return 0;
      const z = x.invert(clientX - box.left);
      const at = layers.findIndex((l) => z < l.z1_mm);
      return at < 0 ? layers.length - 1 : at;
    },
    [layers, x],
  );
  if (!layers || !latest) {
    return (
      <div className="grid h-full place-items-center text-soft" role="status">
        {plan?.state === "stopped"
          ? "No score yet: planning was stopped"
          : plan?.state === "failed"
            ? plan.problem.message
            : "Working out the layers"}
      </div>
    );
  }
  const at = Math.min(layer, layers.length - 1);
  const here = layers[at];
  const cursor = here ? x(0.5 * (here.z0_mm + here.z1_mm)) : left;
  const isSeen = cursor >= left - 1 && cursor <= width - right + 1;
  const tag = here ? `${fixed(here.z1_mm, 1)} mm · L${at + 1}` : "";
  const isStale = plan?.state !== "ready" || plan.revision < job.revision;
  const lowest = height - foot + 4;
  /** A stretch of heights as far as it is shown. */
  const stretch = (low: number, top: number) => [Math.max(left, x(low)), Math.min(width - right, x(top))] as const;
  const down = (e: PointerEvent<SVGSVGElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    const box = e.currentTarget.getBoundingClientRect();
    const on = layerAt(e.clientX);
    if (e.shiftKey || e.clientY - box.top > lowest - 4) {
      setDrag({ from: on });
      setSpan([on, on]);
    } else {
      setDrag("scrub");
      setLayer(on);
    }
  };
  const move = (e: PointerEvent<SVGSVGElement>) => {
    const on = layerAt(e.clientX);
    if (drag === "scrub") setLayer(on);
    else if (drag) setSpan([Math.min(drag.from, on), Math.max(drag.from, on)]);
    else {
      const box = e.currentTarget.getBoundingClientRect();
      const [px, py] = [e.clientX - box.left, e.clientY - box.top];
      const swap = swapAt(latest.plan.swaps, rows, x, [px, py]);
      setHovered(swap && py < lowest ? { swap, x: px } : null);
    }
  };
  const keys: Record<string, () => void> = {
    "+": () => zoom(0.8, here ? here.z1_mm : from),
    "=": () => zoom(0.8, here ? here.z1_mm : from),
    "-": () => zoom(1.25, here ? here.z1_mm : from),
    "0": all,
    Escape: () => setSpan(null),
  };
  return (
    <div ref={host} className={`relative h-full select-none ${isStale ? "opacity-60" : ""}`} aria-busy={isStale}>
      {rows.map((row) => {
        const slot = job.slots[row.slot - 1];
        return (
          <div key={row.slot} className="absolute left-3.5 flex items-center gap-2" style={{ top: row.y - 14, width: left - 24 }}>
            <span className="size-[18px] shrink-0 rounded-[4px] border border-black/30" style={{ background: slot?.colour }} />
            <span className="min-w-0 leading-[1.15]">
              <span className="block truncate text-[12px] font-semibold" title={slot?.spool?.name ?? "No spool"}>
                {slot?.spool?.name ?? "No spool"}
              </span>
              {rows.length <= 6 && !before && (height - top - foot) / rows.length > 30 && (
                <span className="figure relative z-10 block text-[11px] text-soft">
                  {row === rows[0] ? <Explained word="slot">slot</Explained> : "slot"} {row.slot}
                </span>
              )}
            </span>
          </div>
        );
      })}
      <p className="absolute left-3.5 z-10 text-[12px] font-semibold text-soft" style={{ top: height - foot + 7 }}>
        <Explained word="score">Swap score</Explained>
      </p>
      {before && (
        <p className="absolute left-3.5 w-36 text-[12px] text-soft" style={{ top: rowsBefore[0] ? rowsBefore[0].y - 8 : top }}>
          Kept: {latest.plan.bill.swaps - before.bill.swaps === 0 ? "as many swaps" : counted(before.bill.swaps, "swap")},{" "}
          <span className="figure">{fixed(before.bill.purge_g + before.bill.tower_g, 1)} g</span> wasted
        </p>
      )}
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
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={() => setDrag(null)}
        onPointerLeave={() => setHovered(null)}
        onKeyDown={(e) => {
          const to = layerByKey(e.key, at, layers.length);
          const go = keys[e.key];
          if (to === null && !go) return;
          e.preventDefault();
          if (to === null) return go?.();
          setLayer(to);
          if (e.shiftKey) setSpan([Math.min(span?.[0] ?? at, to), Math.max(span?.[1] ?? at, to)]);
        }}
      >
        {span &&
          layers[span[0]] &&
          layers[span[1]] &&
          (() => {
            const [a, b] = stretch(layers[span[0]]?.z0_mm ?? 0, layers[span[1]]?.z1_mm ?? 0);
            return (
              b > a && (
                <rect
                  x={a}
                  width={b - a}
                  y={top - 6}
                  height={lowest - top + 6}
                  fill="#6a2859"
                  fillOpacity="0.09"
                  stroke="#6a2859"
                  strokeOpacity="0.5"
                />
              )
            );
          })()}
        {before && (
          <Rows
            job={job}
            layers={before.layers}
            swaps={before.swaps}
            reloads={before.reloads}
            rows={rowsBefore}
            x={x}
            from={from}
            to={to}
            id="score-before"
          />
        )}
        {before && (
          <line x1={14} x2={width - right} y1={top + (height - top - foot) / 2} y2={top + (height - top - foot) / 2} stroke="#d2d2ce" />
        )}
        <Rows
          job={job}
          layers={latest.plan.layers}
          swaps={latest.plan.swaps}
          reloads={latest.plan.reloads}
          rows={rows}
          x={x}
          from={from}
          to={to}
          id="score"
        />
        {snags.map((s, i) => {
          const [a, b] = stretch(s.low_mm, s.high_mm);
          if (b < a) return null;
          const middle = (a + b) / 2;
          return (
            <g key={i} pointerEvents="none">
              <path d={`M${middle - 4} ${top - 12}h8l-4 6z`} fill={snag === i ? "#a5252b" : "none"} stroke="#a5252b" />
              {snag === i && (
                <rect
                  x={a - 3}
                  width={b - a + 6}
                  y={top - 5}
                  height={lowest - top + 1}
                  fill="none"
                  stroke="#a5252b"
                  strokeDasharray="3 2"
                />
              )}
            </g>
          );
        })}
        <HeightTicks x={x} y={lowest} right={width - right} foot={height - 3} />
        {latest.plan.swaps_at_layers < latest.plan.bill.swaps && (
          <text x={14} y={height - foot + 31} fontSize="11" fill="#5d5f63" data-testid="at-layers">
            {latest.plan.bill.swaps} swaps, {latest.plan.swaps_at_layers} if at layers only
          </text>
        )}
        <ChangeLines job={job} layers={layers} x={x} top={top} bottom={lowest} layerAt={layerAt} onHold={() => setHovered(null)} />
        {isSeen && <LayerCursor x={cursor} tag={tag} low={left} high={width - right} bottom={lowest} />}
      </svg>
      <ScoreTools
        job={job}
        latest={latest}
        isAll={isAll}
        zoom={(by) => zoom(by, 0.5 * (from + to))}
        scroll={scroll}
        all={all}
        fromMm={here?.z0_mm ?? 0}
      />
      <SpanSummary job={job} plan={latest.plan} />
      {hovered && !drag && <SwapTip job={job} swap={hovered.swap} x={hovered.x} y={top + 2} width={width} />}
    </div>
  );
}
