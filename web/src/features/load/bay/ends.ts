import type { Edit } from "../../../api/generated/Edit";
import type { JobView } from "../../../api/generated/JobView";

/** Something in the patch bay that can be joined to something else. */
export type End =
  | { is: "region"; key: string }
  /** A slot that regions print from. */
  | { is: "slot"; slot: number }
  /** A feed of a mixing nozzle, which only takes spools. */
  | { is: "feed"; place: number }
  | { is: "spool"; id: string };

export const sameEnd = (a: End | null, b: End | null): boolean => JSON.stringify(a) === JSON.stringify(b);

const rank = { region: 0, slot: 1, feed: 2, spool: 3 } as const;

export const isMixing = (job: JobView): boolean => job.machine.mixes !== null;

/** The edit that joins two ends; none if they cannot be joined. */
export function joinEdit(job: JobView, one: End, other: End): Edit | null {
  const [a, b] = rank[one.is] <= rank[other.is] ? [one, other] : [other, one];
  if (a.is === "region" && b.is === "slot") return { edit: "assign-slot", region: a.key, slot: b.slot };
  if (a.is === "slot" && b.is === "slot" && a.slot !== b.slot) return { edit: "load", do: "exchange", a: a.slot, b: b.slot };
  if (a.is === "slot" && b.is === "spool" && !isMixing(job)) return { edit: "load-slot", slot: a.slot, spool: b.id };
  if (a.is === "feed" && b.is === "spool") return { edit: "load-slot", slot: a.place, spool: b.id };
  if (a.is === "region" && b.is === "spool" && !isMixing(job)) return regionToSpool(job, a.key, b.id);
  return null;
}

/** A region straight to a spool: through the slot that holds it, else its own slot if it is alone there, else an empty one. */
function regionToSpool(job: JobView, key: string, id: string): Edit {
  const holds = job.slots.find((s) => s.spool?.id === id);
  if (holds) return { edit: "assign-slot", region: key, slot: holds.slot };
  const region = job.regions.find((r) => r.key === key);
  const users = job.regions.filter((r) => r.slot !== null && r.slot === region?.slot).length;
  const empty = job.slots.find((s) => s.spool === null && job.regions.every((r) => r.slot !== s.slot));
  const slot = users === 1 ? region?.slot : empty?.slot;
  const to = slot ?? region?.slot ?? 1;
  return { edit: "load", do: "bay", spools: { [to]: id }, regions: { [key]: to } };
}

/** What an end is called. */
export function endName(job: JobView, end: End, spoolName: (id: string) => string): string {
  switch (end.is) {
    case "region":
      return job.regions.find((r) => r.key === end.key)?.name ?? end.key;
    case "slot":
      return `${job.machine.slot_word} ${end.slot}`;
    case "feed":
      return `${job.machine.place_word} ${end.place}`;
    case "spool":
      return spoolName(end.id);
  }
}
