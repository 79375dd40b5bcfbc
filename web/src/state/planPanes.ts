import { create } from "zustand";
import { persist } from "zustand/middleware";

interface PlanPanes {
  /** Which part of Plan is open. */
  planTab: string;
  /** Column by which ways are sorted; by what is different if none. */
  waysBy: string;
  /** Whether the layer is drawn bead by bead. */
  isInBeads: boolean;
  setPlanTab: (tab: string) => void;
  setWaysBy: (column: string) => void;
  setInBeads: (is: boolean) => void;
}

/** How the maker left the panes of Plan; remembered between visits. */
export const usePlanPanes = create<PlanPanes>()(
  persist(
    (set) => ({
      planTab: "rinse",
      waysBy: "",
      isInBeads: false,
      setPlanTab: (planTab) => set({ planTab }),
      setWaysBy: (waysBy) => set({ waysBy }),
      setInBeads: (isInBeads) => set({ isInBeads }),
    }),
    { name: "varichrom-plan" },
  ),
);
