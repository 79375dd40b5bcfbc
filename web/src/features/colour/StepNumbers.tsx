import { SlidersHorizontal } from "lucide-react";
import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import type { Step } from "../../api/generated/Step";
import { useChanges } from "../../api/queries";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";

/** The numbers of an edit that can be changed later: what they are called, and the edit with another one. */
function numbersOf(edit: Edit): { name: string; unit: string; digits: number; value: number; with: (value: number) => Edit }[] {
  switch (edit.edit) {
    case "give-patch":
    case "give-relief":
      return [{ name: "Crease angle", unit: "°", digits: 0, value: edit.crease_deg, with: (crease_deg) => ({ ...edit, crease_deg }) }];
    case "give-alike":
      return edit.to === "patches"
        ? [{ name: "Crease angle", unit: "°", digits: 0, value: edit.crease_deg, with: (crease_deg) => ({ ...edit, crease_deg }) }]
        : [];
    case "give-stroke":
      return [
        {
          name: "Radius",
          unit: "mm",
          digits: 2,
          value: edit.stroke.radius_mm,
          with: (radius_mm) => ({ ...edit, stroke: { ...edit.stroke, radius_mm } }),
        },
      ];
    case "give-band":
      return [
        { name: "From", unit: "mm", digits: 2, value: edit.low_mm, with: (low_mm) => ({ ...edit, low_mm }) },
        { name: "To", unit: "mm", digits: 2, value: edit.high_mm, with: (high_mm) => ({ ...edit, high_mm }) },
        ...((edit.count ?? 1) > 1
          ? [{ name: "Pitch", unit: "mm", digits: 2, value: edit.pitch_mm ?? 0, with: (pitch_mm: number): Edit => ({ ...edit, pitch_mm }) }]
          : []),
      ];
    case "grow-region":
    case "smooth-region":
      return [{ name: "Distance", unit: "mm", digits: 2, value: edit.by_mm, with: (by_mm) => ({ ...edit, by_mm }) }];
    case "set-soak":
      if (edit.layers !== undefined)
        return [
          { name: "Depth", unit: "layers", digits: 0, value: edit.layers, with: (layers) => ({ ...edit, layers: Math.round(layers) }) },
        ];
      return edit.soak_mm === undefined
        ? []
        : [{ name: "Depth", unit: "mm", digits: 2, value: edit.soak_mm, with: (soak_mm) => ({ ...edit, soak_mm }) }];
    case "give-change":
      return [{ name: "From", unit: "mm", digits: 2, value: edit.from_mm, with: (from_mm) => ({ ...edit, from_mm }) }];
    default:
      return [];
  }
}

export const hasNumbers = (edit: Edit) => numbersOf(edit).length > 0;

/** Opens to fields for the numbers of a step; a new number does everything after it again. */
export function StepNumbers({ job, step, isOpen, onToggle }: { job: JobView; step: Step; isOpen: boolean; onToggle: () => void }) {
  const { edit } = useChanges(job.id);
  const numbers = numbersOf(step.edit);
  return (
    <>
      <button
        type="button"
        aria-expanded={isOpen}
        aria-label={`Change the numbers of step ${step.number}`}
        title="Change the numbers; everything after is done again"
        className={`absolute right-3 top-1.5 rounded-[3px] p-0.5 hover:text-plum ${isOpen ? "text-plum" : "text-faint"}`}
        onClick={onToggle}
      >
        <SlidersHorizontal size={14} aria-hidden />
      </button>
      <div className={isOpen ? "pb-2 pl-[42px] pr-3.5" : ""}>
        {isOpen &&
          numbers.map((n) => (
            <label key={n.name} className="mt-1 flex items-center justify-between text-[12px] text-soft">
              {n.name}
              <NumberField
                label={`${n.name} of step ${step.number}`}
                value={n.value}
                unit={n.unit}
                digits={n.digits}
                width={92}
                onCommit={(value) => edit({ edit: "change-edit", number: step.number, to: n.with(value) })}
              />
            </label>
          ))}
        {isOpen && (
          <Button kind="link" className="mt-1 text-[12px]" onClick={() => edit({ edit: "leave-out", number: step.number })}>
            Take this step out
          </Button>
        )}
      </div>
    </>
  );
}
