import { create } from "zustand";
import type { DrawingOptions } from "../api/generated/DrawingOptions";
import type { Eye } from "../api/generated/Eye";
import type { InkTaker } from "../api/generated/InkTaker";
import type { Relief } from "../api/generated/Relief";
import type { Words } from "../api/generated/Words";

type Point = [number, number, number];

/** Where a drawing was put on the bench. */
export interface Put {
  model: string;
  at: Point;
  /** The way the surface faces there. */
  normal: Point;
  /** A place on the upright axis it may be wound around. */
  centre: Point;
  /** Against the view, and up in it, when it was put. */
  view: { facing: Point; up: Point };
}

export type LaidWhat = "file" | "words" | "eye";
export type LaidHow = "face" | "view" | "around";

interface LayingState {
  what: LaidWhat;
  /** A drawing that was sent in, or one that the job keeps. */
  file: { name: string; staged: number } | { name: string; content: string } | null;
  options: DrawingOptions;
  words: Words;
  eye: Eye;
  /** A font file that was sent in. */
  font: { name: string; staged: number } | null;
  /** Who gets each colour; new regions where nothing was said. */
  takers: InkTaker[];
  how: LaidHow;
  turnDeg: number;
  isMirrored: boolean;
  isThrough: boolean;
  relief: "none" | Relief["is"];
  reliefMm: number;
  put: Put | null;
  /** The step that laid it; none before it lies. */
  step: number | null;
  set: (change: Partial<LayingState>) => void;
  /** Lets go of what was laid: the next one is a step of its own. */
  letGo: () => void;
}

export const usualOptions: DrawingOptions = { width_mm: null, colours: null, steps: 1, specks_mm2: 0.5, smooth_mm: 0.05 };

/** What is being laid on the model. */
export const useLaying = create<LayingState>()((set) => ({
  what: "file",
  file: null,
  options: usualOptions,
  words: { text: "", height_mm: 8 },
  eye: { width_mm: 6, height_mm: 4, iris: 0.8, pupil: 0.4 },
  font: null,
  takers: [],
  how: "face",
  turnDeg: 0,
  isMirrored: false,
  isThrough: false,
  relief: "none",
  reliefMm: 0.8,
  put: null,
  step: null,
  set: (change) => set(change),
  letGo: () => set({ put: null, step: null }),
}));
