import { create } from "zustand";

/** A place of a layer, in the print's frame, mm. */
export interface Mark {
  layer: number;
  at: [number, number];
}

interface MarkState {
  mark: Mark | null;
  /** Whether a click on the drawing of a layer sets it. */
  isMarking: boolean;
  set: (to: Partial<Pick<MarkState, "mark" | "isMarking">>) => void;
}

/** The place that a note is about. */
export const useMark = create<MarkState>()((set) => ({ mark: null, isMarking: false, set: (to) => set(to) }));
