import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { AlikeTo } from "../api/generated/AlikeTo";
import type { Within } from "../api/generated/Within";

export const tools = ["patch", "relief", "dab", "dip", "facet", "band", "lasso", "part", "alike"] as const;
export type Tool = (typeof tools)[number];
export type Look = "spools" | "patterns" | "grey" | "edges" | "xray" | "apart" | "cut";

/** Stands for taking surface back to each part's own region. */
export const ownRegion = "own";

/** What the tools are set to; remembered between visits. */
export interface Settings {
  creaseDeg: number;
  within: Within;
  /** Furthest turn from the facet clicked, degrees; none for no limit. */
  turnDeg: number | null;
  allAtHeight: boolean;
  radiusMm: number;
  flat: boolean;
  bandLow: number;
  bandHigh: number;
  bandSnap: boolean;
  bandCount: number;
  bandPitch: number;
  bandOnPart: boolean;
  lassoStraight: boolean;
  lassoThrough: boolean;
  alikeTo: AlikeTo;
  stepMm: number;
  strayMm2: number;
}

interface BenchState {
  tool: Tool;
  settings: Settings;
  /** Key of the region that clicks give surface to. */
  region: string;
  /** Whether the tools take surface back instead. */
  isErasing: boolean;
  /** Layer under the cursor of the score, from 0. */
  layer: number;
  looks: Record<Look, boolean>;
  /** What alone is shown: a region's key, or a part by model and number. */
  alone: { region: string } | { model: number; part: number } | null;
  /** The stray that is looked at, by its place in the list. */
  stray: number | null;
  /** Counts requests to see the whole model again. */
  fits: number;
  setTool: (tool: Tool) => void;
  set: (settings: Partial<Settings>) => void;
  setRegion: (key: string) => void;
  setErasing: (isErasing: boolean) => void;
  setLayer: (layer: number) => void;
  toggle: (look: Look) => void;
  setAlone: (alone: BenchState["alone"]) => void;
  setStray: (stray: number | null) => void;
  fit: () => void;
}

/** What the maker has in hand. Tool, settings and looks are remembered between visits. */
export const useBench = create<BenchState>()(
  persist(
    (set) => ({
      tool: "patch",
      settings: {
        creaseDeg: 30,
        within: "part",
        turnDeg: null,
        allAtHeight: false,
        radiusMm: 2,
        flat: false,
        bandLow: 0,
        bandHigh: 5,
        bandSnap: true,
        bandCount: 1,
        bandPitch: 10,
        bandOnPart: false,
        lassoStraight: false,
        lassoThrough: false,
        alikeTo: "parts",
        stepMm: 0.5,
        strayMm2: 4,
      },
      region: "base",
      isErasing: false,
      layer: 0,
      looks: { spools: false, patterns: false, grey: false, edges: false, xray: false, apart: false, cut: false },
      alone: null,
      stray: null,
      fits: 0,
      // An outline is drawn over the parts where they are.
      setTool: (tool) => set((s) => ({ tool, looks: tool === "lasso" ? { ...s.looks, apart: false } : s.looks })),
      set: (settings) => set((s) => ({ settings: { ...s.settings, ...settings } })),
      setRegion: (region) => set({ region, isErasing: false }),
      setErasing: (isErasing) => set({ isErasing }),
      setLayer: (layer) => set({ layer: Math.max(0, layer) }),
      toggle: (look) => set((s) => ({ looks: { ...s.looks, [look]: !s.looks[look] } })),
      setAlone: (alone) => set({ alone }),
      setStray: (stray) => set({ stray }),
      fit: () => set((s) => ({ fits: s.fits + 1 })),
    }),
    {
      name: "varichrom-bench",
      version: 2,
      partialize: ({ tool, settings, looks }) => ({ tool, settings, looks }),
      // Settings added since the last visit start at their defaults.
      merge: (kept, fresh) => {
        const old = (kept ?? {}) as Partial<Pick<BenchState, "tool" | "settings" | "looks">>;
        return { ...fresh, ...old, settings: { ...fresh.settings, ...old.settings }, looks: { ...fresh.looks, ...old.looks } };
      },
    },
  ),
);

/** The region that tools give to now. */
export const useTarget = () => useBench((s) => (s.isErasing ? ownRegion : s.region));
