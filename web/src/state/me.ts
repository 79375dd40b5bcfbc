import { create } from "zustand";
import { persist } from "zustand/middleware";

/** Who sits at this browser; remembered between visits. */
export const useMe = create<{ name: string; setName: (name: string) => void }>()(
  persist((set) => ({ name: "", setName: (name) => set({ name }) }), { name: "varichrom-me" }),
);
