import type { JobView } from "../../api/generated/JobView";

/** A key that no region of the job has had: counted, and stamped against regions that were deleted. */
export function freshKey(job: JobView): string {
  const highest = Math.max(0, ...job.regions.map((r) => r.number));
  return `r${highest + 1}-${Date.now().toString(36)}`;
}

/** The colour of the first loaded slot no region uses, else a grey to be changed. */
export function freshColour(job: JobView): string {
  const free = job.slots.find((s) => s.spool && !job.regions.some((r) => r.slot === s.slot));
  return free?.colour ?? "#8a8d91";
}
