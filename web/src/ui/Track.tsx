import { Slider } from "radix-ui";

/** A bare slider in whole steps, told while it is dragged. */
export function Track({
  label,
  min = 0,
  max,
  value,
  onChange,
  className = "",
}: {
  label: string;
  min?: number;
  max: number;
  value: number;
  onChange: (value: number) => void;
  className?: string;
}) {
  return (
    <Slider.Root
      min={min}
      max={max}
      step={1}
      value={[value]}
      onValueChange={([v]) => v !== undefined && onChange(v)}
      className={`relative flex h-4 items-center ${className}`}
    >
      <Slider.Track className="relative h-[3px] w-full bg-line">
        <Slider.Range className="absolute h-full bg-plum" />
      </Slider.Track>
      <Slider.Thumb aria-label={label} className="block size-3.5 rounded-full border-2 border-plum bg-sheet" />
    </Slider.Root>
  );
}
