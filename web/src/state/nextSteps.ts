import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { JobView } from "../api/generated/JobView";
import { stages, type Stage } from "./route";

/** What a new maker would do next, and whether that is wanted. */
export const useNextSteps = create<{
  isPutAway: boolean;
  /** Stages that were seen, by job. */
  seen: Record<number, Stage[]>;
  putAway: (is: boolean) => void;
  see: (job: number, stage: Stage) => void;
}>()(
  persist(
    (set) => ({
      isPutAway: false,
      seen: {},
      putAway: (isPutAway) => set({ isPutAway }),
      see: (job, stage) =>
        set((s) => {
          const of = s.seen[job] ?? [];
          return of.includes(stage) ? s : { seen: { ...s.seen, [job]: [...of, stage] } };
        }),
    }),
    { name: "varichrom-guide" },
  ),
);

/** The next step of a job: where it is done, and in a few words what. Nothing when all was done. */
export function nextStep(job: JobView, seen: Stage[]): { stage: Stage; words: string } | null {
  const inUse = job.regions.filter((r) => r.facets > 0);
  if (inUse.length < 2)
    return { stage: "colour", words: job.regions.length < 2 ? "Add a second region" : "Press on the model to give it faces" };
  const used = new Set(inUse.map((r) => r.slot));
  const isLoaded = job.machine.jets || job.slots.filter((s) => used.has(s.slot)).every((s) => s.spool !== null);
  if (!isLoaded) return { stage: "load", words: "Put spools into the slots" };
  const words: Record<Stage, string> = {
    intake: "Look at size and defects",
    colour: "Colour it",
    load: "Check what is loaded",
    plan: "See what the swaps cost",
    handover: "Take it to the printer",
  };
  const stage = stages.find((s) => !seen.includes(s) && s !== "intake" && s !== "colour");
  return stage ? { stage, words: words[stage] } : null;
}
