import type { Target } from "../../../api/generated/Target";
import { useIntake } from "../../../state/intake";
import { Button } from "../../../ui/Button";
import { LengthField } from "../../../ui/LengthField";
import { Select } from "../../../ui/Select";
import { BedMap } from "../../bed/BedMap";
import type { PaneProps } from "../PlacingTray";
import { useOf } from "../../../state/useOf";

/** Nudges in typed steps, and the places that have names. */
export function MovePane({ job, selection, place }: PaneProps) {
  const { stepMm, setStep } = useOf(useIntake, "stepMm", "setStep");
  const by = (x: number, y: number, z: number) => place({ how: "move", by_mm: [x * stepMm, y * stepMm, z * stepMm] });
  const others: { value: string; label: string; target: Target }[] = job.models.flatMap((m, i) => [
    ...(selection.of !== "everything" && !(selection.of === "model" && selection.model === i) && job.models.length > 1
      ? [{ value: `${i}`, label: m.name, target: { of: "model" as const, model: m.name } }]
      : []),
    ...(m.parts.length > 1
      ? m.parts.flatMap((p, j) =>
          selection.of === "part" && selection.model === i && selection.part === j
            ? []
            : [
                {
                  value: `${i} ${j}`,
                  label: p.name,
                  target: { of: "part" as const, at: { model: m.name, point: p.point, normal: p.normal } },
                },
              ],
        )
      : []),
  ]);
  return (
    <div className="flex gap-4">
      {job.models.length > 1 && <BedMap job={job} side={84} />}
      <div className="flex flex-col gap-2">
        <div className="flex items-center gap-3">
          <label className="flex items-center gap-2 whitespace-nowrap">
            Step <LengthField label="Step" value={stepMm} digits={2} width={88} onCommit={(mm) => setStep(Math.abs(mm) || 1)} />
          </label>
          <span className="flex gap-1" role="group" aria-label="Nudge">
            <Button aria-label="Left by a step" onClick={() => by(-1, 0, 0)}>
              ← X
            </Button>
            <Button aria-label="Right by a step" onClick={() => by(1, 0, 0)}>
              X →
            </Button>
            <Button aria-label="To the front by a step" onClick={() => by(0, -1, 0)}>
              ↙ Y
            </Button>
            <Button aria-label="To the back by a step" onClick={() => by(0, 1, 0)}>
              Y ↗
            </Button>
            <Button aria-label="Down by a step" onClick={() => by(0, 0, -1)}>
              ↓ Z
            </Button>
            <Button aria-label="Up by a step" onClick={() => by(0, 0, 1)}>
              Z ↑
            </Button>
          </span>
        </div>
        <div className="flex items-center gap-2 whitespace-nowrap">
          <Button onClick={() => place({ how: "drop" })} title="Down or up onto the bed">
            Drop to the bed
          </Button>
          <Button onClick={() => place({ how: "centre" })} title="Middle at x 0, y 0">
            Centre
          </Button>
          <Button onClick={() => place({ how: "home" })} title="Back to where the file has it, at the file's size">
            Put back
          </Button>
          {others.length > 0 && selection.of !== "everything" && (
            <Select
              label="Centre on"
              value=""
              placeholder="Centre on …"
              options={others}
              className="w-36"
              onChange={(value) => {
                const other = others.find((o) => o.value === value);
                if (other) place({ how: "centre-on", other: other.target });
              }}
            />
          )}
        </div>
      </div>
    </div>
  );
}
