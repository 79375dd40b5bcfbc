import type { JobView } from "../../api/generated/JobView";

/** What the spool in a slot is called, without its plastic; the slot's number if it is empty. */
export const slotName = (job: JobView, slot: number) =>
  (job.slots[slot - 1]?.spool?.name ?? `Slot ${slot}`).replace(/ (PLA|PETG|ABS|ASA|TPU|PC|PVA)$/, "");

export const slotColour = (job: JobView, slot: number) => job.slots[slot - 1]?.colour ?? "#888888";

export const regionName = (job: JobView, key: string) => job.regions.find((r) => r.key === key)?.name ?? key;

/** Layers in words, counted from 1. */
export const layersText = (first: number, last: number) => (first === last ? `Layer ${first + 1}` : `Layers ${first + 1}–${last + 1}`);
