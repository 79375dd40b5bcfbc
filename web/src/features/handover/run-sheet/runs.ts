import type { Plan } from "../../../api/generated/Plan";
import type { Swap } from "../../../api/generated/Swap";

/** Swaps that follow on one another between the same two slots. */
export interface SwapRun {
  swaps: Swap[];
  /** Number of the first, from 1. */
  number: number;
}

/** Swaps folded: as long as they go to and fro between two slots they are one run; what a person has to do stands alone. */
export function runsOf(swaps: readonly Swap[]): SwapRun[] {
  const runs: SwapRun[] = [];
  swaps.forEach((swap, i) => {
    const last = runs.at(-1);
    const before = last?.swaps.at(-1);
    const isSame =
      before &&
      !swap.is_reload &&
      !before.is_reload &&
      [before.from, before.to].includes(swap.from) &&
      [before.from, before.to].includes(swap.to);
    if (last && isSame) last.swaps.push(swap);
    else runs.push({ swaps: [swap], number: i + 1 });
  });
  return runs;
}

/** Seconds from the start until a layer is begun. */
export function begins(plan: Plan, layer: number): number {
  return plan.layers.slice(0, layer).reduce((sum, l) => sum + l.seconds, plan.bill.times.start_s);
}

/** Hours and minutes on the clock of a print. */
export function clock(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  return `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`;
}
