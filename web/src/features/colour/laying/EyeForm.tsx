import { limits } from "../../../api/generated/limits";
import type { Eye } from "../../../api/generated/Eye";
import { useLaying } from "../../../state/laying";
import { NumberField } from "../../../ui/NumberField";
import type { Lay } from "./useLay";

/** The sizes of an eye, and which way it looks. */
export function EyeForm({ lay }: { lay: Lay }) {
  const eye = useLaying((s) => s.eye);
  const set = (change: Partial<Eye>) => lay.change({ eye: { ...eye, ...change } });
  const look = eye.look ?? [0, 0];
  return (
    <div className="flex flex-col gap-1.5 text-soft">
      <div className="flex items-center justify-between">
        White
        <span className="flex items-center gap-1">
          <NumberField
            label="Width of the eye"
            value={eye.width_mm}
            unit="mm"
            digits={1}
            width={72}
            range={limits.eye}
            onCommit={(width_mm) => set({ width_mm })}
          />
          ×
          <NumberField
            label="Height of the eye"
            value={eye.height_mm}
            unit="mm"
            digits={1}
            width={72}
            range={limits.eye}
            onCommit={(height_mm) => set({ height_mm })}
          />
        </span>
      </div>
      <div className="flex items-center justify-between">
        <label className="flex items-center gap-2">
          Iris
          <NumberField
            label="Iris"
            value={100 * eye.iris}
            unit="%"
            digits={0}
            width={60}
            onCommit={(n) => set({ iris: Math.max(n, 0) / 100 })}
          />
        </label>
        <label className="flex items-center gap-2">
          Pupil
          <NumberField
            label="Pupil"
            value={100 * eye.pupil}
            unit="%"
            digits={0}
            width={60}
            onCommit={(n) => set({ pupil: Math.max(n, 0) / 100 })}
          />
        </label>
      </div>
      <div className="flex items-center justify-between" role="group" aria-label="Which way it looks">
        Looks
        <span className="flex items-center gap-1">
          <NumberField
            label="Looks to the right"
            value={100 * look[0]}
            unit="% →"
            digits={0}
            width={72}
            onCommit={(n) => set({ look: [n / 100, look[1]] })}
          />
          <NumberField
            label="Looks up"
            value={100 * look[1]}
            unit="% ↑"
            digits={0}
            width={72}
            onCommit={(n) => set({ look: [look[0], n / 100] })}
          />
        </span>
      </div>
    </div>
  );
}
