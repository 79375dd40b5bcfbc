import { limits } from "../../api/generated/limits";
import { useBench } from "../../state/bench";
import { LengthField } from "../../ui/LengthField";
import { useOf } from "../../state/useOf";

/** By how much Grow, Shrink and Smooth of a region's menu move its edge. */
export function EdgeStep() {
  const { settings, set } = useOf(useBench, "settings", "set");
  return (
    <div
      className="flex items-center justify-between gap-1 whitespace-nowrap"
      title="How far Grow, Shrink and Smooth of its menu move its edge"
    >
      <span>Edge moves by</span>
      <LengthField
        label="Edge moves by"
        value={settings.stepMm}
        digits={2}
        width={80}
        range={limits.edgeStep}
        onCommit={(stepMm) => set({ stepMm })}
      />
    </div>
  );
}
