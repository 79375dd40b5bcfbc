import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { DefectKind } from "../api/generated/DefectKind";
import type { JobView } from "../api/generated/JobView";
import type { Target } from "../api/generated/Target";

export type PlacingTool = "choose" | "down" | "up" | "turn" | "size" | "move" | "mirror" | "copies";

/** What the card is about and what placing moves. */
export type Selection = { of: "everything" } | { of: "model"; model: number } | { of: "part"; model: number; part: number };

interface IntakeState {
  selection: Selection;
  tool: PlacingTool;
  /** The defect that is looked at: which kind, and which place of it. */
  defect: { model: number; kind: DefectKind; at: number } | null;
  /** Distance of one nudge, mm. */
  stepMm: number;
  select: (selection: Selection) => void;
  setTool: (tool: PlacingTool) => void;
  setDefect: (defect: IntakeState["defect"]) => void;
  setStep: (mm: number) => void;
}

/** What the maker has in hand on Intake. The step of a nudge is remembered between visits. */
export const useIntake = create<IntakeState>()(
  persist(
    (set) => ({
      selection: { of: "model", model: 0 },
      tool: "choose",
      defect: null,
      stepMm: 1,
      select: (selection) => set({ selection, defect: null }),
      setTool: (tool) => set((s) => ({ tool: s.tool === tool ? "choose" : tool })),
      setDefect: (defect) => set({ defect }),
      setStep: (stepMm) => set({ stepMm }),
    }),
    { name: "varichrom-intake", partialize: ({ stepMm }) => ({ stepMm }) },
  ),
);

/** The selection, kept within what the job has. */
export function within(selection: Selection, job: JobView): Selection {
  if (selection.of === "everything") return job.models.length > 1 ? selection : { of: "model", model: 0 };
  const model = job.models[selection.model];
  if (!model) return { of: "model", model: 0 };
  if (selection.of === "part" && !model.parts[selection.part]) return { of: "model", model: selection.model };
  return selection;
}

export function targetOf(selection: Selection, job: JobView): Target {
  if (selection.of === "everything") return { of: "everything" };
  const model = job.models[selection.model];
  const part = selection.of === "part" ? model?.parts[selection.part] : undefined;
  if (model && part) return { of: "part", at: { model: model.name, point: part.point, normal: part.normal } };
  return { of: "model", model: model?.name ?? "" };
}

export function sizeOf(selection: Selection, job: JobView): readonly number[] {
  if (selection.of === "everything") return job.size_mm;
  const model = job.models[selection.model];
  return (selection.of === "part" ? model?.parts[selection.part]?.size_mm : model?.size_mm) ?? [0, 0, 0];
}

export function nameOf(selection: Selection, job: JobView): string {
  if (selection.of === "everything") return "everything";
  const model = job.models[selection.model];
  return (selection.of === "part" ? model?.parts[selection.part]?.name : model?.name) ?? "";
}
