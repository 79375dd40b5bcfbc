import { Slider } from "radix-ui";
import { useState, type ReactNode } from "react";

/** A named slider with its value at hand; told while it is dragged only if asked, else when it is let go. */
export function SliderRow({
  label,
  name,
  value,
  min,
  max,
  step = 1,
  unit,
  isLive = false,
  onChange,
  scale,
  note,
}: {
  label: string;
  /** How the label is shown, where it is more than words. */
  name?: ReactNode;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit: string;
  isLive?: boolean;
  onChange: (value: number) => void;
  /** Said beside the value. */
  note?: string | undefined;
  /** From value to place on the track and back, for tracks that are not even. */
  scale?: { to: (value: number) => number; from: (place: number) => number };
}) {
  const [draft, setDraft] = useState<number | null>(null);
  const to = scale?.to ?? ((v: number) => v);
  const from = scale?.from ?? ((v: number) => v);
  const shown = draft ?? value;
  const digits = step < 1 && shown < 10 ? (shown < 1 ? 2 : 1) : 0;
  return (
    <div>
      <div className="flex justify-between">
        <span>{name ?? label}</span>
        <span className="figure text-soft">
          {shown.toFixed(digits)}
          {unit}
          {note && `, ${note}`}
        </span>
      </div>
      <Slider.Root
        min={to(min)}
        max={to(max)}
        step={scale ? (to(max) - to(min)) / 200 : step}
        value={[to(shown)]}
        onValueChange={([v]) => {
          if (v === undefined) return;
          if (isLive) onChange(from(v));
          else setDraft(from(v));
        }}
        onValueCommit={([v]) => {
          setDraft(null);
          if (v !== undefined) onChange(from(v));
        }}
        className="relative flex h-4 items-center"
      >
        <Slider.Track className="relative h-[3px] w-full bg-line">
          <Slider.Range className="absolute h-full bg-plum" />
        </Slider.Track>
        <Slider.Thumb aria-label={label} className="block size-3.5 rounded-full border-2 border-plum bg-sheet" />
      </Slider.Root>
    </div>
  );
}
