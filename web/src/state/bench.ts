import type { BandDepth } from "../api/generated/BandDepth";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { AlikeTo } from "../api/generated/AlikeTo";
import type { Fragments } from "../api/generated/Fragments";
import type { Place } from "../api/generated/Place";
import type { Tone } from "../api/generated/Tone";
import type { Within } from "../api/generated/Within";

export const tools = ["patch", "relief", "dab", "dip", "facet", "band", "lasso", "part", "alike", "lay", "tone"] as const;
export type Tool = (typeof tools)[number];
/** What can be done to whole parts. */
export const partTools = ["to-part", "cut", "inlay", "sink", "split"] as const;
export type PartTool = (typeof partTools)[number];
export type Look = "spools" | "patterns" | "grey" | "edges" | "xray" | "apart" | "cut" | "hangs";

/** Stands for taking surface back to each part's own region. */
export const ownRegion = "own";

/** What the tools are set to; remembered between visits. */
export interface Settings {
  creaseDeg: number;
  within: Within;
  /** Furthest turn from the facet clicked, degrees; none for no limit. */
  turnDeg: number | null;
  allAtHeight: boolean;
  /** Whether a raised face given to a new region goes right through. */
  reliefThrough: boolean;
  radiusMm: number;
  flat: boolean;
  bandLow: number;
  bandHigh: number;
  bandSnap: boolean;
  /** How far bands go in. */
  bandDepth: BandDepth;
  bandCount: number;
  bandPitch: number;
  bandOnPart: boolean;
  lassoStraight: boolean;
  lassoThrough: boolean;
  alikeTo: AlikeTo;
  /** What of the surface a tone takes, how much, and how far it reaches. */
  tone: Tone | "speckles";
  toneStrength: number;
  toneReach: number;
  speckleMm: number;
  speckleShare: number;
  speckleSeed: number;
  stepMm: number;
  strayMm2: number;
  /** Teeth between parts, and whether they are dovetails. */
  teethMm: number;
  isDovetail: boolean;
  depthKind: "soak" | "mm" | "up-to" | "through";
  depthMm: number;
  cutBy: "height" | "face" | "points";
  cutMm: number;
  /** Layers of an inlay; 0 for the whole depth. */
  inlayLayers: number;
  gapMm: number;
  isFlush: boolean;
  sinkMm: number;
  fragments: Fragments;
  fragmentMm3: number;
  /** Also on every part of the same shape. */
  onAlike: boolean;
  /** Difference of colours up to which nothing is said to shine through. */
  hidingTolerance: number;
}

interface BenchState {
  tool: Tool;
  /** Whether surface is given to regions, or parts are worked on. */
  hand: "surface" | "parts";
  partTool: PartTool;
  /** Keys of the parts chosen in the list. */
  chosen: number[];
  /** Keys of parts that are not shown. */
  hidden: number[];
  /** Key of the part pointed at, on the bench or in the list. */
  pointed: number | null;
  /** Two parts whose meeting is looked at. */
  pair: [number, number] | null;
  /** Points clicked so far for a cut. */
  points: Place[];
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
  /** The snag that is looked at, by its place in the list. */
  snag: number | null;
  /** Counts requests to see the whole model again. */
  fits: number;
  setTool: (tool: Tool) => void;
  setHand: (hand: BenchState["hand"]) => void;
  setPartTool: (tool: PartTool) => void;
  setChosen: (keys: number[]) => void;
  setHidden: (keys: number[]) => void;
  setPointed: (key: number | null) => void;
  setPair: (pair: BenchState["pair"]) => void;
  setPoints: (points: Place[]) => void;
  set: (settings: Partial<Settings>) => void;
  setRegion: (key: string) => void;
  setErasing: (isErasing: boolean) => void;
  setLayer: (layer: number) => void;
  toggle: (look: Look) => void;
  setAlone: (alone: BenchState["alone"]) => void;
  setStray: (stray: number | null) => void;
  setSnag: (snag: number | null) => void;
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
        reliefThrough: true,
        radiusMm: 2,
        flat: false,
        bandLow: 0,
        bandHigh: 5,
        bandSnap: true,
        bandDepth: "skin",
        bandCount: 1,
        bandPitch: 10,
        bandOnPart: false,
        lassoStraight: false,
        lassoThrough: false,
        alikeTo: "parts",
        tone: "shade",
        toneStrength: 0.4,
        toneReach: 10,
        speckleMm: 1.5,
        speckleShare: 0.08,
        speckleSeed: 1,
        stepMm: 0.5,
        strayMm2: 4,
        teethMm: 2,
        isDovetail: true,
        depthKind: "up-to",
        depthMm: 0.8,
        cutBy: "height",
        cutMm: 5,
        inlayLayers: 0,
        gapMm: 0,
        isFlush: true,
        sinkMm: 0.6,
        fragments: "keep",
        fragmentMm3: 1,
        onAlike: false,
        hidingTolerance: 2,
      },
      hand: "surface",
      partTool: "to-part",
      chosen: [],
      hidden: [],
      pointed: null,
      pair: null,
      points: [],
      region: "base",
      isErasing: false,
      layer: 0,
      looks: { spools: false, patterns: false, grey: false, edges: false, xray: false, apart: false, cut: false, hangs: false },
      alone: null,
      stray: null,
      snag: null,
      fits: 0,
      // An outline is drawn over the parts where they are.
      setTool: (tool) =>
        set((s) => ({
          tool,
          hand: "surface",
          points: [],
          looks: tool === "lasso" || tool === "lay" ? { ...s.looks, apart: false } : s.looks,
        })),
      setHand: (hand) => set({ hand, points: [] }),
      setPartTool: (partTool) => set({ partTool, hand: "parts", points: [] }),
      setChosen: (chosen) => set({ chosen }),
      setHidden: (hidden) => set({ hidden }),
      setPointed: (pointed) => set((s) => (s.pointed === pointed ? s : { pointed })),
      setPair: (pair) => set({ pair }),
      setPoints: (points) => set({ points }),
      set: (settings) => set((s) => ({ settings: { ...s.settings, ...settings } })),
      setRegion: (region) => set({ region, isErasing: false }),
      setErasing: (isErasing) => set({ isErasing }),
      setLayer: (layer) => set({ layer: Math.max(0, layer) }),
      toggle: (look) => set((s) => ({ looks: { ...s.looks, [look]: !s.looks[look] } })),
      setAlone: (alone) => set({ alone }),
      setStray: (stray) => set({ stray }),
      setSnag: (snag) => set({ snag }),
      fit: () => set((s) => ({ fits: s.fits + 1 })),
    }),
    {
      name: "varichrom-bench",
      version: 2,
      partialize: ({ tool, partTool, settings, looks }) => ({ tool, partTool, settings, looks }),
      // Settings added since the last visit start at their defaults.
      merge: (kept, fresh) => {
        const old = (kept ?? {}) as Partial<Pick<BenchState, "tool" | "partTool" | "settings" | "looks">>;
        return { ...fresh, ...old, settings: { ...fresh.settings, ...old.settings }, looks: { ...fresh.looks, ...old.looks } };
      },
    },
  ),
);

/** The region that tools give to now. */
export const useTarget = () => useBench((s) => (s.isErasing ? ownRegion : s.region));
