import { Play, Square } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Takes } from "../../api/generated/Takes";
import type { PlanView } from "../../api/generated/PlanView";
import { useMoveData, useMoves } from "../../api/moves";
import { useBeads, useLayer } from "../../api/queries";
import { useOf } from "../../state/useOf";
import { usePlanPanes } from "../../state/planPanes";
import { fixed } from "../../ui/format";
import { useSize } from "../../ui/useSize";
import { BeadsPane } from "../beads/BeadsPane";
import { MovesState } from "../beads/MovesTable";
import { ChangeHere } from "../score/ChangeHere";
import { SettingsButton } from "../settings/SettingsDrawer";
import type { Purged } from "../../scene/cellImage";
import { drawLayer } from "./drawLayer";

type Ready = Extract<PlanView, { state: "ready" }>;

/** Before the page has its sizes. */
const usual: [number, number] = [800, 480];

/** One layer as it is printed: walls, skins and infill in the colours of the spools, beside the purge tower. */
export function LayerPane({ job, plan, layer }: { job: JobView; plan: Ready | null; layer: number }) {
  const drawing = useLayer(job.id, layer, plan?.revision);
  const { isInBeads, setInBeads } = useOf(usePlanPanes, "isInBeads", "setInBeads");
  const moves = useMoves(job.id, plan?.revision, isInBeads);
  const isMade = moves.data?.state === "ready" && !moves.data.problem && moves.data.revision === plan?.revision;
  const made = useMoveData(job.id, plan?.revision, isInBeads && isMade).data;
  // Until the moves are made, the beads of this layer alone, which are there at once.
  const beads = useBeads(job.id, layer, plan?.revision, isInBeads && !made);
  const canvas = useRef<HTMLCanvasElement>(null);
  const host = useRef<HTMLDivElement>(null);
  const size = useSize(host, usual);
  const planned = plan?.plan.layers[layer];
  const isStale = plan !== null && plan.revision < job.revision;
  const steps = planned?.order.length ?? 0;
  /** Slots of the layer that have printed, while it is played; all of them if none. */
  const [played, setPlayed] = useState<number | null>(null);
  const [isPlaying, setPlaying] = useState(false);
  const [shownLayer, setShownLayer] = useState(layer);
  if (shownLayer !== layer) {
    setShownLayer(layer);
    setPlayed(null);
    setPlaying(false);
  }
  useEffect(() => {
    if (!isPlaying) return;
    const tick = window.setInterval(() => {
      setPlayed((n) => {
        const next = (n ?? 0) + 1;
        if (next >= steps) setPlaying(false);
        return next >= steps ? null : next;
      });
    }, 900);
    return () => window.clearInterval(tick);
  }, [isPlaying, steps]);
  const nameOf = (slot: number) => job.slots[slot - 1]?.spool?.name ?? `slot ${slot}`;
  const before = plan?.plan.layers
    .slice(0, layer)
    .findLast((l) => l.order.length > 0)
    ?.order.at(-1);
  useEffect(() => {
    const element = canvas.current;
    const data = drawing.data?.drawing;
    if (!element || !data || data.index !== layer) return;
    const slotOf = new Map(job.regions.map((r) => [r.number, r.slot ?? job.regions[0]?.slot ?? 1]));
    const done = played === null ? null : planned?.order.slice(0, played);
    const slotHere = (slot: number) => planned?.lent?.[slot] ?? slot;
    const colourOf = (region: number) => {
      if (job.machine.jets) return job.regions.find((r) => r.number === region)?.colour ?? "#888888";
      const slot = slotHere(slotOf.get(region) ?? 1);
      // What has not printed yet is left pale.
      return done && !done.includes(slot) ? "#c9cbcc" : (job.slots[slot - 1]?.colour ?? "#888888");
    };
    const swaps = (plan?.plan.swaps ?? []).filter((s) => s.layer === layer);
    const slotColour = (slot: number) => job.slots[slot - 1]?.colour ?? "#888888";
    const purges = swaps.map((s) => ({ colour: slotColour(s.to), mm3: s.split.tower_mm3 }));
    const takers = job.rules.takers as Record<string, Takes>;
    const takesOf = new Map(job.regions.map((r) => [r.number, takers[r.key]]));
    const purgedOf = (region: number, isInfill: boolean): Purged => {
      const takes = takesOf.get(region);
      if (!takes || done || (takes === "infill" && !isInfill)) return [];
      const room = planned?.extruded_mm3[slotHere(slotOf.get(region) ?? 1)] ?? 0;
      return swaps.filter((s) => s.split.marked_mm3 > 0 && room > 0).map((s) => [slotColour(s.to), s.split.marked_mm3 / room]);
    };
    const tower = plan?.plan.tower ?? null;
    const height = planned ? planned.z1_mm - planned.z0_mm : 0.2;
    drawLayer(
      element,
      size,
      data,
      colourOf,
      tower && planned && planned.z0_mm < tower.height_mm ? { side: tower.side_mm, height, purges } : null,
      isInBeads && beads.data
        ? {
            view: beads.data,
            colourOf: (slot) => (done && !done.includes(slot) ? "#c9cbcc" : (job.slots[slot - 1]?.colour ?? "#888888")),
          }
        : null,
      purgedOf,
    );
  }, [beads.data, drawing.data, isInBeads, job, layer, plan, planned, played, size]);
  return (
    <section
      ref={host}
      className={`relative min-h-0 overflow-hidden bg-bench ${isStale ? "opacity-60" : ""}`}
      aria-label="Layer"
      aria-busy={isStale}
    >
      {isInBeads && made && planned && (
        <div className="absolute inset-0">
          <BeadsPane job={job} data={made} layer={layer} topMm={planned.z1_mm} isStale={isStale} />
        </div>
      )}
      <canvas
        ref={canvas}
        hidden={isInBeads && made !== undefined}
        className="absolute inset-0"
        style={{ width: size[0], height: size[1] }}
        aria-label={`Drawing of layer ${layer + 1}`}
      />
      {planned && (
        <p className="pointer-events-none absolute left-3.5 top-3 max-w-[calc(100%-380px)] text-soft">
          <b className="text-ink">Layer {layer + 1}</b>, <span className="figure">{fixed(planned.z1_mm, 1)} mm</span>.{" "}
          {job.machine.jets && "All colours at once"}
          {(job.machine.jets ? [] : planned.order).map((slot, i) => (
            <span key={slot}>
              {i > 0 && ", then "}
              {nameOf(slot)}
              {i === 0 && before === slot && planned.order.length > 1 && " first (still loaded)"}
            </span>
          ))}
          .
        </p>
      )}
      <div className="absolute right-3.5 top-2.5 flex gap-1.5" hidden={job.machine.jets}>
        {planned && (
          <button
            type="button"
            aria-pressed={isInBeads}
            className={`rounded-[4px] border bg-sheet px-2 py-0.5 font-medium hover:border-faint ${isInBeads ? "border-plum text-plum" : "border-line"}`}
            onClick={() => setInBeads(!isInBeads)}
          >
            Beads
          </button>
        )}
        {planned && planned.z0_mm > 0 && (
          <div className="flex items-center rounded-[4px] border border-line bg-sheet">
            <ChangeHere job={job} fromMm={planned.z0_mm} />
          </div>
        )}
        <SettingsButton />
      </div>
      {isInBeads && !made && planned && (
        <div className="absolute bottom-3 right-3.5 w-72">
          <MovesState id={job.id} moves={moves.data} />
        </div>
      )}
      {isInBeads && !made && beads.error && (
        <p className="absolute inset-x-0 top-10 text-center text-soft" role="alert">
          {beads.error.message}
        </p>
      )}
      {planned && steps > 1 && !(isInBeads && made) && (
        <div className="absolute bottom-3 left-3.5 flex items-center gap-1" role="toolbar" aria-label="Order of this layer">
          <button
            type="button"
            className="flex items-center gap-1 rounded-[4px] border border-line bg-sheet px-2 py-0.5 font-medium hover:border-faint"
            onClick={() => {
              setPlayed(isPlaying ? null : 0);
              setPlaying(!isPlaying);
            }}
          >
            {isPlaying ? <Square size={11} aria-hidden /> : <Play size={11} aria-hidden />}
            {isPlaying ? "Stop" : "Play the order"}
          </button>
          {planned.order.map((slot, i) => {
            const isDone = played === null || i < played;
            return (
              <button
                key={slot}
                type="button"
                aria-pressed={played === i + 1}
                title={`${i + 1}: ${nameOf(slot)}`}
                aria-label={`Up to ${nameOf(slot)}`}
                className={`size-[22px] rounded-[4px] border ${played === i + 1 ? "border-plum shadow-[0_0_0_1px_var(--color-plum)]" : "border-black/30"} ${isDone ? "" : "opacity-35"}`}
                style={{ background: job.slots[slot - 1]?.colour }}
                onClick={() => {
                  setPlaying(false);
                  setPlayed(played === i + 1 || i + 1 === steps ? null : i + 1);
                }}
              />
            );
          })}
        </div>
      )}
      {drawing.error && (
        <p className="absolute inset-x-0 top-1/2 text-center text-soft" role="alert">
          {drawing.error.message}
        </p>
      )}
    </section>
  );
}
