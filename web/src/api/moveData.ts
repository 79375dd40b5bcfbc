/** The moves of a print, format `VCV1` of docs/wire-format.md. */

/** Kinds that lay nothing begin here. */
export const TRAVEL = 32;
export const CHANGE = 37;
const PULL = 34;

export const kindNames = [
  "outer wall",
  "inner wall",
  "thin",
  "skin",
  "bridge",
  "infill",
  "skirt",
  "brim",
  "priming line",
  "tower",
  "support",
  "smoothing",
] as const;

export interface MoveData {
  count: number;
  files: number;
  /** Three numbers a layer as it is begun in a file: file, layer, first move. */
  begins: Uint32Array;
  /** Bottom and top of each, mm. */
  spans: Float32Array;
  /** Where each move ends, mm. */
  places: Float32Array;
  /** When, s. */
  ends: Float32Array;
  /** Thousandths of a mm. */
  widths: Uint16Array;
  /** Tenths of a mm a second. */
  speeds: Uint16Array;
  kinds: Uint8Array;
  slots: Uint8Array;
}

/** A run of moves, from one to before another. */
export type Run = readonly [number, number];

export function readMoves(buffer: ArrayBuffer): MoveData {
  const magic = String.fromCharCode(...new Uint8Array(buffer, 0, 4));
  const [version = 0, count = 0, layers = 0, files = 0] = new Uint32Array(buffer, 4, 4);
  if (magic !== "VCV1" || version !== 1) throw new Error(`unknown format ${magic}`);
  let at = 20;
  const take = (bytes: number) => (at += bytes) - bytes;
  return {
    count,
    files,
    begins: new Uint32Array(buffer, take(12 * layers), 3 * layers),
    spans: new Float32Array(buffer, take(8 * layers), 2 * layers),
    places: new Float32Array(buffer, take(12 * count), 3 * count),
    ends: new Float32Array(buffer, take(4 * count), count),
    widths: new Uint16Array(buffer, take(2 * count), count),
    speeds: new Uint16Array(buffer, take(2 * count), count),
    kinds: new Uint8Array(buffer, take(count), count),
    slots: new Uint8Array(buffer, take(count), count),
  };
}

/** The moves of a layer: one run, or one for each pass that has it. */
export function runsOf(data: MoveData, layer: number): Run[] {
  const runs: Run[] = [];
  const layers = data.begins.length / 3;
  for (let i = 0; i < layers; i++) {
    if (data.begins[3 * i + 1] !== layer) continue;
    const next = i + 1 < layers ? data.begins[3 * i + 5] : data.count;
    runs.push([data.begins[3 * i + 2] ?? 0, next ?? data.count]);
  }
  return runs;
}

/** One thing that happens in a layer, for those who scrub: a bead, or all that lies between two. */
export interface LayerMoves {
  /** Numbers of the moves, in order. */
  moves: Uint32Array;
  /** For each of them how many beads have begun up to it. */
  beads: Uint32Array;
  beadCount: number;
  /** Seconds from the layer's beginning to the end of each. */
  times: Float32Array;
}

export function layerMoves(data: MoveData, layer: number): LayerMoves {
  const runs = runsOf(data, layer);
  const total = runs.reduce((sum, [from, to]) => sum + to - from, 0);
  const moves = new Uint32Array(total);
  const beads = new Uint32Array(total);
  const times = new Float32Array(total);
  let [n, bead, before, elapsed] = [0, 0, 255, 0];
  for (const [from, to] of runs) {
    let then = from > 0 ? (data.ends[from - 1] ?? 0) : 0;
    before = 255;
    for (let i = from; i < to; i++) {
      const kind = data.kinds[i] ?? 0;
      if (kind < TRAVEL && kind !== before) bead++;
      before = kind;
      const now = data.ends[i] ?? 0;
      elapsed += now - then;
      then = now;
      moves[n] = i;
      beads[n] = bead;
      times[n] = elapsed;
      n++;
    }
  }
  return { moves, beads, beadCount: bead, times };
}

/** Whether filament is pulled back at a move. */
export const isPull = (data: MoveData, i: number) => data.kinds[i] === PULL;
