import type { JobView } from "../../api/generated/JobView";
import type { Shifts } from "../../scene/modelGeometry";

/** How far a part is pulled out, as a share of its distance from the middle of everything. */
const pull = 0.6;

/** Far enough to be out of every sight, mm. */
const away = -1e7;

/** Where the parts of a model are drawn instead of where they are; none if nothing moves. Hidden parts go out of sight. */
export function partShifts(job: JobView, index: number, isApart: boolean, hidden: number[]): Shifts | null {
  const parts = job.models[index]?.parts ?? [];
  const pulled = isApart ? pulledApart(job, index) : null;
  if (!parts.some((p) => hidden.includes(p.key))) return pulled;
  return parts.map((p, i) => (hidden.includes(p.key) ? [0, 0, away] : (pulled?.[i] ?? [0, 0, 0])));
}

/** Parts pulled apart: away from the middle, and enclosed ones up and out. */
function pulledApart(job: JobView, index: number): Shifts | null {
  const parts = job.models[index]?.parts ?? [];
  const all = job.models.flatMap((m) => m.parts);
  if (all.length < 2) return null;
  const middle = job.low_mm.map((c, k) => c + 0.5 * (job.size_mm[k] ?? 0));
  const size = Math.hypot(...job.size_mm);
  const names = new Map(all.map((p, i) => [p.name, i]));
  return parts.map((part) => {
    const out = part.centre_mm.map((c, k) => pull * (c - (middle[k] ?? 0)));
    // Parts that share their middle go up, one above the other; what is enclosed comes out on top.
    const isCentral = Math.hypot(...out) < 0.05 * size;
    const rank = isCentral ? (names.get(part.name) ?? 0) : 0;
    return [out[0] ?? 0, out[1] ?? 0, (out[2] ?? 0) + size * (0.55 * part.enclosed_by + 0.12 * rank)];
  });
}
