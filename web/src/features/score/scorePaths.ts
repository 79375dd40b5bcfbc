import type { ScaleLinear } from "d3-scale";
import type { PlanLayer } from "../../api/generated/PlanLayer";
import type { Swap } from "../../api/generated/Swap";

/** What is drawn of a layer. */
export type ScoreLayer = Pick<PlanLayer, "z0_mm" | "z1_mm" | "areas_mm2">;

/** What is drawn of a change. */
export type ScoreSwap = Pick<Swap, "z_mm" | "from" | "to">;

export interface Row {
  slot: number;
  /** Middle line, px. */
  y: number;
  /** Half of the greatest thickness, px. */
  half: number;
}

/** Least half thickness, so that a trace of colour still shows, px. */
const least = 1.4;

/** For every slot a path of bars, one a layer, as thick as the slot's share of the layer's area. */
export function bands(layers: ScoreLayer[], rows: Row[], x: ScaleLinear<number, number>) {
  return rows.map((row) => {
    let path = "";
    let run: { x0: number; x1: number; half: number } | null = null;
    const close = () => {
      if (run) path += `M${run.x0} ${row.y - run.half}H${run.x1}V${row.y + run.half}H${run.x0}Z`;
      run = null;
    };
    for (const layer of layers) {
      const area = layer.areas_mm2[row.slot] ?? 0;
      const whole = Object.values(layer.areas_mm2).reduce((sum, a) => sum + a, 0);
      const half = area > 0 ? Math.max(least, row.half * Math.sqrt(area / whole)) : 0;
      const x0 = round(x(layer.z0_mm));
      const x1 = round(x(layer.z1_mm));
      const open = run as { x0: number; x1: number; half: number } | null;
      if (open && half > 0 && Math.abs(open.half - half) < 0.25) open.x1 = x1;
      else {
        close();
        if (half > 0) run = { x0, x1, half: round(half) };
      }
    }
    close();
    return { slot: row.slot, path };
  });
}

/** Every swap as a line from one slot's row to the other's. */
export function swapLines(swaps: ScoreSwap[], rows: Row[], x: ScaleLinear<number, number>): string {
  const y = new Map(rows.map((r) => [r.slot, r.y]));
  return swaps.map((s) => `M${round(x(s.z_mm))} ${y.get(s.from) ?? 0}V${y.get(s.to) ?? 0}`).join("");
}

/** How near the pointer has to come to a swap, px. */
const near = 4;

/** The swap at a point: of those on the nearest layer within reach the one whose line is nearest. */
export function swapAt(swaps: Swap[], rows: Row[], x: ScaleLinear<number, number>, [px, py]: readonly [number, number]): Swap | undefined {
  const beside = (s: Swap) => Math.abs(x(s.z_mm) - px);
  const y = new Map(rows.map((r) => [r.slot, r.y]));
  const above = (s: Swap) => {
    const ends = [y.get(s.from) ?? 0, y.get(s.to) ?? 0];
    return Math.max(0, Math.min(...ends) - py, py - Math.max(...ends));
  };
  const [first] = swaps.filter((s) => beside(s) <= near).sort((a, b) => beside(a) - beside(b) || above(a) - above(b));
  return first;
}

const round = (n: number) => Math.round(n * 100) / 100;
