import { create } from "zustand";
import type { PlanView } from "../api/generated/PlanView";

type Ready = Extract<PlanView, { state: "ready" }>;

interface ScoreState {
  /** Heights that are shown, mm; all of them if none. */
  window: [number, number] | null;
  /** Layers that are selected, from 0. */
  span: [number, number] | null;
  /** A state of a job kept for comparison. */
  pinned: { job: number; plan: Ready } | null;
  /** What a change at a layer is kept to: a part by job and key, or everything. */
  changeOf: { job: number; part: number } | null;
  setChangeOf: (of: ScoreState["changeOf"]) => void;
  setWindow: (window: ScoreState["window"]) => void;
  setSpan: (span: ScoreState["span"]) => void;
  pin: (job: number, plan: Ready | null) => void;
}

/** What of the swap score is looked at; the same in every stage that shows it. */
export const useScore = create<ScoreState>((set) => ({
  window: null,
  span: null,
  pinned: null,
  changeOf: null,
  setChangeOf: (changeOf) => set({ changeOf }),
  setWindow: (window) => set({ window }),
  setSpan: (span) => set({ span }),
  pin: (job, plan) => set({ pinned: plan && { job, plan } }),
}));
