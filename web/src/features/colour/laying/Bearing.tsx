import type { FlatView } from "../../../api/generated/FlatView";
import { limits } from "../../../api/generated/limits";
import { useLaying, type LaidHow } from "../../../state/laying";
import { NumberField } from "../../../ui/NumberField";
import { Select } from "../../../ui/Select";
import { Tick } from "../../../ui/Tick";
import type { Lay } from "./useLay";

const hows: { value: LaidHow; label: string }[] = [
  { value: "face", label: "straight onto the face" },
  { value: "view", label: "as it is looked at" },
  { value: "around", label: "around the upright axis" },
];

const reliefs: { value: ReturnType<typeof useLaying.getState>["relief"]; label: string }[] = [
  { value: "none", label: "colour on the surface" },
  { value: "raised", label: "raised" },
  { value: "sunken", label: "sunken" },
  { value: "through", label: "cut through" },
];

/** How it lies, in numbers. */
export function Bearing({ flat, lay }: { flat: FlatView; lay: Lay }) {
  const { what, how, turnDeg, isMirrored, isThrough, relief, reliefMm, options, put } = useLaying();
  const hasHeight = relief === "raised" || relief === "sunken";
  const move = (axis: number, mm: number) => {
    if (!put) return;
    const at = [...put.at] as [number, number, number];
    at[axis] = mm;
    lay.change({ put: { ...put, at } });
  };
  return (
    <div className="flex flex-col gap-1.5 border-t border-line pt-2">
      <div className="flex items-center justify-between gap-2 text-soft">
        Lies
        <Select
          label="How it lies"
          value={how}
          options={hows}
          className="h-6 w-[168px] px-1.5! py-0!"
          onChange={(value) => lay.change({ how: hows.find((h) => h.value === value)?.value ?? "face" })}
        />
      </div>
      <div className="flex items-center justify-between text-soft">
        {what === "file" ? (
          <label className="flex items-center gap-2">
            Width
            <NumberField
              label="Width of the drawing"
              value={flat.size_mm[0]}
              unit="mm"
              digits={1}
              width={76}
              onCommit={(width_mm) => lay.change({ options: { ...options, width_mm } })}
            />
          </label>
        ) : (
          <span className="figure">
            {flat.size_mm[0].toFixed(1)} × {flat.size_mm[1].toFixed(1)} mm
          </span>
        )}
        <label className="flex items-center gap-2">
          Turn
          <NumberField label="Turn" value={turnDeg} unit="°" digits={0} width={56} onCommit={(deg) => lay.change({ turnDeg: deg })} />
        </label>
      </div>
      {how !== "around" && (
        <div className="flex items-center justify-between gap-2 text-soft">
          Becomes
          <span className="flex gap-1">
            <Select
              label="What it becomes"
              value={relief}
              options={reliefs}
              className={`h-6 px-1.5! py-0! ${hasHeight ? "w-[92px]" : "w-[168px]"}`}
              onChange={(value) => lay.change({ relief: reliefs.find((r) => r.value === value)?.value ?? "none" })}
            />
            {hasHeight && (
              <NumberField
                label="Height of the relief"
                value={reliefMm}
                unit="mm"
                digits={2}
                width={72}
                range={limits.relief}
                onCommit={(reliefMm) => lay.change({ reliefMm })}
              />
            )}
          </span>
        </div>
      )}
      {put && (
        <div className="flex items-center justify-between text-soft" role="group" aria-label="Where its middle lies">
          Middle
          <span className="flex gap-1">
            {["x", "y", "z"].map((axis, i) => (
              <NumberField
                key={axis}
                label={`Middle in ${axis}`}
                value={put.at[i] ?? 0}
                unit={axis}
                digits={1}
                width={58}
                onCommit={(mm) => move(i, mm)}
              />
            ))}
          </span>
        </div>
      )}
      <div className="flex gap-4">
        <Tick isOn={isMirrored} title="Left and right exchanged" onChange={(on) => lay.change({ isMirrored: on })}>
          Mirrored
        </Tick>
        {how !== "around" && relief === "none" && (
          <Tick isOn={isThrough} title="Also what lies behind, and what faces away" onChange={(on) => lay.change({ isThrough: on })}>
            Right through
          </Tick>
        )}
      </div>
    </div>
  );
}
