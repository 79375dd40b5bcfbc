import { create } from "zustand";
import type { Problem } from "../api/generated/Problem";

/** The refusal on show, if any. */
export const useNotice = create<{
  problem: Problem | null;
  show: (problem: Problem) => void;
  close: () => void;
}>((set) => ({
  problem: null,
  show: (problem) => set({ problem }),
  close: () => set({ problem: null }),
}));
