import type { JobView } from "../../../api/generated/JobView";
import type { RackView } from "../../../api/generated/RackView";
import type { Spool } from "../../../api/generated/Spool";
import { isMixing } from "./ends";

/** Where things stand in the patch bay, px. */

/** Left edge and width of the three columns. */
export const columns = {
  regions: { left: 0, width: 270 },
  slots: { left: 430, width: 300 },
  spools: { left: 880, width: 280 },
} as const;

export const bayWidth = columns.spools.left + columns.spools.width;

/** Rows stand closer the more there are, so that sixteen still read at one glance. */
export function rowSize(rows: number): { height: number; pitch: number } {
  if (rows <= 5) return { height: 56, pitch: 74 };
  if (rows <= 9) return { height: 46, pitch: 56 };
  return { height: 34, pitch: 40 };
}

/** A ribbon between two points as an SVG path. */
export function ribbon(from: readonly [number, number], to: readonly [number, number]): string {
  const half = (from[0] + to[0]) / 2;
  return `M${from[0]},${from[1]} C${half},${from[1]} ${half},${to[1]} ${to[0]},${to[1]}`;
}

/** What stands in each column from top to bottom, and how much room that takes. */
export function shapeOf(job: JobView, rack: RackView) {
  const mixes = isMixing(job);
  const used = new Set(job.regions.map((r) => r.slot));
  // Of the mixtures, those in use and one to go on with.
  const free = job.slots.find((s) => !used.has(s.slot))?.slot;
  const slots = mixes ? job.slots.filter((s) => used.has(s.slot) || s.slot === free) : job.slots;
  const feeds = mixes ? job.places : [];
  const loaded = job.places.flatMap((p) => (p.spool ? [p.spool.id] : []));
  const rank = (s: Spool) => (loaded.includes(s.id) ? loaded.indexOf(s.id) : loaded.length);
  const onShelf = rack.spools.filter((s) => !s.is_archived || loaded.includes(s.id));
  const spools = onShelf
    .map((s, i) => [s, i] as const)
    .sort(([a, i], [b, j]) => rank(a) - rank(b) || i - j)
    .map(([s]) => s);
  const rows = Math.max(job.regions.length, slots.length + feeds.length);
  const size = rowSize(Math.max(rows, Math.min(spools.length, 9)));
  return { slots, feeds, spools, size, upper: rows * size.pitch, height: Math.max(rows, spools.length) * size.pitch };
}
