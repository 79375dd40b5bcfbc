import { create } from "zustand";
import { persist } from "zustand/middleware";

interface PlanPanes {
  /** Which part of Plan is open. */
  planTab: string;
  /** Column by which ways are sorted; by what is different if none. */
  waysBy: string;
  setPlanTab: (tab: string) => void;
  setWaysBy: (column: string) => void;
}

/** How the maker left the panes of Plan; remembered between visits. */
export const usePlanPanes = create<PlanPanes>()(
  persist(
    (set) => ({
      planTab: "rinse",
      waysBy: "",
      setPlanTab: (planTab) => set({ planTab }),
      setWaysBy: (waysBy) => set({ waysBy }),
    }),
    { name: "varichrom-plan" },
  ),
);
