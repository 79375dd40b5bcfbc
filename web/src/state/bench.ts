import { create } from "zustand";
import { persist } from "zustand/middleware";

export type Tool = "patch" | "part";
export type Look = "spools" | "patterns" | "edges" | "xray" | "cut";

interface BenchState {
  tool: Tool;
  creaseDeg: number;
  /** Key of the region that clicks give surface to. */
  region: string;
  /** Layer under the cursor of the score, from 0. */
  layer: number;
  looks: Record<Look, boolean>;
  /** Counts requests to see the whole model again. */
  fits: number;
  setTool: (tool: Tool) => void;
  setCrease: (deg: number) => void;
  setRegion: (key: string) => void;
  setLayer: (layer: number) => void;
  toggle: (look: Look) => void;
  fit: () => void;
}

/** What the maker has in hand. Tool, angle and looks are remembered between visits. */
export const useBench = create<BenchState>()(
  persist(
    (set) => ({
      tool: "patch",
      creaseDeg: 30,
      region: "base",
      layer: 0,
      looks: { spools: false, patterns: false, edges: false, xray: false, cut: false },
      fits: 0,
      setTool: (tool) => set({ tool }),
      setCrease: (creaseDeg) => set({ creaseDeg }),
      setRegion: (region) => set({ region }),
      setLayer: (layer) => set({ layer: Math.max(0, layer) }),
      toggle: (look) => set((s) => ({ looks: { ...s.looks, [look]: !s.looks[look] } })),
      fit: () => set((s) => ({ fits: s.fits + 1 })),
    }),
    {
      name: "varichrom-bench",
      partialize: ({ tool, creaseDeg, looks }) => ({ tool, creaseDeg, looks }),
    },
  ),
);
