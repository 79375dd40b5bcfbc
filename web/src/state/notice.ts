import { create } from "zustand";
import type { Problem } from "../api/generated/Problem";

/** Something that can be done about what is told. */
export interface NoticeAction {
  name: string;
  run: () => void;
}

/** The refusal on show, if any. */
export const useNotice = create<{
  problem: Problem | null;
  action: NoticeAction | null;
  show: (problem: Problem, action?: NoticeAction) => void;
  close: () => void;
}>((set) => ({
  problem: null,
  action: null,
  show: (problem, action) => set({ problem, action: action ?? null }),
  close: () => set({ problem: null, action: null }),
}));
