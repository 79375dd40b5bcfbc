import type { RehearsalView } from "../../api/generated/RehearsalView";
import { kindNames, TRAVEL, type MoveData } from "../../api/moveData";

/** How many moves have ended by now. */
export function movesDone(data: MoveData, rehearsal: RehearsalView): number {
  if (rehearsal.status.is === "done") return data.count;
  const whole = data.ends[data.count - 1] ?? 0;
  // The file's clock begins before the first move; from there on both count the same moves.
  const begins = Math.max(0, rehearsal.whole_s - whole);
  const s = rehearsal.file_s - begins;
  let [low, high] = [0, data.count];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((data.ends[middle] ?? 0) <= s) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** What is laid at the moment, in a word. */
export function laidNow(data: MoveData, rehearsal: RehearsalView): string {
  if (rehearsal.status.is === "done") return "nothing more";
  const kind = data.kinds[Math.min(movesDone(data, rehearsal), data.count - 1)] ?? TRAVEL;
  return kind < TRAVEL ? (kindNames[kind] ?? "a bead") : "nothing: on its way";
}

/** Lowest corner and size of all that is laid but what goes around it, mm. */
export function roomOf(data: MoveData): { low: number[]; size: number[] } {
  const low = [Infinity, Infinity, 0];
  const high = [-Infinity, -Infinity, 1];
  const skirt = kindNames.indexOf("skirt");
  const prime = kindNames.indexOf("priming line");
  for (let i = 0; i < data.count; i++) {
    const kind = data.kinds[i] ?? TRAVEL;
    if (kind >= TRAVEL || kind === skirt || kind === prime) continue;
    for (let axis = 0; axis < 3; axis++) {
      const at = data.places[3 * i + axis] ?? 0;
      if (at < (low[axis] ?? 0)) low[axis] = at;
      if (at > (high[axis] ?? 0)) high[axis] = at;
    }
  }
  return { low, size: high.map((h, axis) => Math.max(1, h - (low[axis] ?? 0))) };
}
