import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { JobSummary } from "../../api/generated/JobSummary";
import type { Standing } from "../../api/generated/Standing";

export type Place = "shelf" | "away" | "bin";
export type Order = "changed" | "name" | "time" | "swaps" | "waste" | "stands";

export const places: [Place, string][] = [
  ["shelf", "On the shelf"],
  ["away", "Put away"],
  ["bin", "Bin"],
];

export const orders: { value: Order; label: string }[] = [
  { value: "changed", label: "Last changed first" },
  { value: "name", label: "By name" },
  { value: "time", label: "Longest first" },
  { value: "swaps", label: "Most swaps first" },
  { value: "waste", label: "Most waste first" },
  { value: "stands", label: "By how far it is" },
];

export const standings: Record<Standing, string> = {
  open: "Opened",
  coloured: "Coloured",
  loaded: "Loaded",
  planned: "Planned",
  released: "Released",
  printed: "Printed",
};
const steps = Object.keys(standings) as Standing[];

/** How the shelf is looked at. */
export const useShelfView = create<{
  order: Order;
  place: Place;
  sought: string;
  tag: string | null;
  chosen: number[];
  set: (to: Partial<{ order: Order; place: Place; sought: string; tag: string | null; chosen: number[] }>) => void;
}>()(
  persist((set) => ({ order: "changed", place: "shelf", sought: "", tag: null, chosen: [], set: (to) => set(to) }), {
    name: "varichrom-shelf",
    partialize: ({ order }) => ({ order }),
  }),
);

/** All tags there are, in order. */
export const tagsOf = (jobs: JobSummary[]) => [...new Set(jobs.flatMap((j) => j.tags))].sort((a, b) => a.localeCompare(b));

/** The jobs that are looked for, in their order. */
export function shown(jobs: JobSummary[], { order, sought, tag }: { order: Order; sought: string; tag: string | null }): JobSummary[] {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (j: JobSummary) => {
    const text = [j.name, ...j.tags, standings[j.stands], ...j.colours].join(" ").toLowerCase();
    return words.every((w) => text.includes(w)) && (tag === null || j.tags.includes(tag));
  };
  const by: Record<Order, (j: JobSummary) => number> = {
    changed: (j) => -j.changed_s,
    name: () => 0,
    time: (j) => -(j.time_s ?? -1),
    swaps: (j) => -(j.swaps ?? -1),
    waste: (j) => -(j.wasted_share ?? -1),
    stands: (j) => -steps.indexOf(j.stands),
  };
  const found = jobs.filter(has);
  // What is equal stays as the server has it.
  return order === "name" ? found.sort((a, b) => a.name.localeCompare(b.name)) : found.sort((a, b) => by[order](a) - by[order](b));
}
