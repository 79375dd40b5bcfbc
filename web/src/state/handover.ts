import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { BodyDepth } from "../api/generated/BodyDepth";

interface Handover {
  /** How colour on the surface goes out as bodies. */
  depth: BodyDepth;
  setDepth: (depth: BodyDepth) => void;
}

/** How the maker takes files out; remembered between visits. */
export const useHandover = create<Handover>()(
  persist(
    (set) => ({
      depth: "soak",
      setDepth: (depth) => set({ depth }),
    }),
    { name: "varichrom-handover" },
  ),
);
