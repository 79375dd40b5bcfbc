import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { BeadsBy } from "../scene/beads/colours";

interface BeadView {
  /** By what beads are coloured. */
  by: BeadsBy;
  /** Whether layers are stacked up on a bench, and not seen one by one from above. */
  isStacked: boolean;
  hasTravel: boolean;
  hasSeams: boolean;
  /** Whether the tower is to be in view. */
  hasTower: boolean;
  /** How many times as fast as the printer a layer is played. */
  pace: number;
  /** Whether the drawer with how the job is printed is open. */
  isDrawerOpen: boolean;
  set: (change: Partial<Omit<BeadView, "set">>) => void;
}

/** How the maker looks at beads; remembered between visits. */
export const useBeadView = create<BeadView>()(
  persist(
    (set) => ({
      by: "spool",
      isStacked: false,
      hasTravel: false,
      hasSeams: false,
      hasTower: false,
      pace: 20,
      isDrawerOpen: false,
      set,
    }),
    // Whoever comes back wants the work first, and the drawer when it is asked for.
    {
      name: "varichrom-beads",
      partialize: (s) => ({
        by: s.by,
        isStacked: s.isStacked,
        hasTravel: s.hasTravel,
        hasSeams: s.hasSeams,
        hasTower: s.hasTower,
        pace: s.pace,
      }),
    },
  ),
);
