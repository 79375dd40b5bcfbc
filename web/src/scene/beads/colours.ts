import { CHANGE, TRAVEL, type MoveData } from "../../api/moveData";

/** By what beads are coloured. */
export type BeadsBy = "spool" | "kind" | "speed" | "age";

/** One for each kind of bead, from the outer wall to the tower. */
export const kindColours = [
  "#27415f",
  "#6d8fb3",
  "#8a5a9b",
  "#cf9b3a",
  "#b5482e",
  "#7f9468",
  "#a9adb2",
  "#8e9399",
  "#777c83",
  "#c2b9a5",
  "#4f9a94",
];

/** From slow to fast, and from early to late. */
const ramp = ["#f0e2c8", "#d9a05b", "#a3527a", "#4a2059"];

type Rgb = readonly [number, number, number];

export function rgb(hex: string): Rgb {
  const n = Number.parseInt(hex.slice(1, 7), 16);
  return [(n >> 16) & 255, (n >> 8) & 255, n & 255];
}

const stops = ramp.map(rgb);

export function onRamp(share: number): Rgb {
  const at = Math.min(Math.max(share, 0), 1) * (stops.length - 1);
  const i = Math.min(Math.floor(at), stops.length - 2);
  const [a, b] = [stops[i] ?? [0, 0, 0], stops[i + 1] ?? [0, 0, 0]];
  const t = at - i;
  return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])];
}

/** Slowest and fastest that anything is laid, mm/s. */
export function speedsOf(data: MoveData): [number, number] {
  let [low, high] = [65535, 0];
  for (let i = 0; i < data.count; i++) {
    if ((data.kinds[i] ?? TRAVEL) >= TRAVEL) continue;
    const speed = data.speeds[i] ?? 0;
    if (speed < low) low = speed;
    if (speed > high) high = speed;
  }
  return high === 0 ? [0, 1] : [low / 10, high / 10];
}

/** The colour of each of some moves, four bytes each. `share` says how far each is through what is shown. */
export function coloursOf(
  data: MoveData,
  moves: { length: number; at: (n: number) => number },
  by: BeadsBy,
  slotColours: readonly string[],
  [slow, fast]: readonly [number, number],
): Uint8Array {
  const out = new Uint8Array(4 * moves.length);
  const spools = slotColours.map(rgb);
  const kinds = kindColours.map(rgb);
  for (let n = 0; n < moves.length; n++) {
    const i = moves.at(n);
    const kind = data.kinds[i] ?? 0;
    let colour: Rgb;
    if (kind >= TRAVEL) colour = kind === CHANGE ? [107, 39, 88] : [50, 52, 56];
    else if (by === "spool") colour = spools[(data.slots[i] ?? 1) - 1] ?? [136, 136, 136];
    else if (by === "kind") colour = kinds[kind] ?? [136, 136, 136];
    else if (by === "speed") colour = onRamp(((data.speeds[i] ?? 0) / 10 - slow) / Math.max(fast - slow, 0.1));
    else colour = onRamp(n / Math.max(moves.length - 1, 1));
    out[4 * n] = colour[0];
    out[4 * n + 1] = colour[1];
    out[4 * n + 2] = colour[2];
    out[4 * n + 3] = 255;
  }
  return out;
}
