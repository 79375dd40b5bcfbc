import { useState } from "react";
import { LengthField } from "../../../ui/LengthField";
import { NumberField } from "../../../ui/NumberField";
import { sizeOf } from "../../../state/intake";
import type { PaneProps } from "../PlacingTray";
import { axes } from "./TurnPane";

/** A wanted size on one axis, or a factor for all. */
export function SizePane({ job, selection, place }: PaneProps) {
  const [isEven, setEven] = useState(true);
  const size = sizeOf(selection, job);
  return (
    <div className="flex items-center gap-2.5">
      {axes.map((a, i) => (
        <LengthField
          key={a.axis}
          label={`Size along ${a.name}`}
          prefix={a.name}
          width={104}
          digits={2}
          value={size[i] ?? 0}
          onCommit={(mm) => place({ how: "size", axis: a.axis, mm, alone: !isEven })}
        />
      ))}
      <label className="flex items-center gap-1.5 whitespace-nowrap">
        <input type="checkbox" className="accent-plum" checked={isEven} onChange={(e) => setEven(e.target.checked)} />
        Keep shape
      </label>
      <NumberField
        label="Scale by"
        value={100}
        unit="%"
        digits={1}
        width={76}
        onCommit={(percent) => place({ how: "stretch", factors: [percent / 100, percent / 100, percent / 100] })}
      />
    </div>
  );
}
