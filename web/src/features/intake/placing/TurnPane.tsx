import { useState } from "react";
import type { Axis } from "../../../api/generated/Axis";
import { Button } from "../../../ui/Button";
import { NumberField } from "../../../ui/NumberField";
import type { PaneProps } from "../PlacingTray";

export const axes: { axis: Axis; name: string; why: string }[] = [
  { axis: "x", name: "X", why: "left to right" },
  { axis: "y", name: "Y", why: "front to back" },
  { axis: "z", name: "Z", why: "upright" },
];

/** Quarter turns and typed angles about an axis. */
export function TurnPane({ place }: PaneProps) {
  const [degrees, setDegrees] = useState(90);
  return (
    <div className="flex items-center gap-5">
      <label className="flex items-center gap-2">
        by <NumberField label="Degrees" value={degrees} unit="°" digits={1} width={72} onCommit={setDegrees} />
      </label>
      {axes.map((a) => (
        <span key={a.axis} className="flex items-center gap-1" role="group" aria-label={`About ${a.name}`}>
          <span className="text-soft" title={`Axis ${a.why}`}>
            {a.name}
          </span>
          <Button aria-label={`Turn back about ${a.name}`} onClick={() => place({ how: "turn", axis: a.axis, degrees: -degrees })}>
            ↻
          </Button>
          <Button aria-label={`Turn about ${a.name}`} onClick={() => place({ how: "turn", axis: a.axis, degrees })}>
            ↺
          </Button>
        </span>
      ))}
    </div>
  );
}
