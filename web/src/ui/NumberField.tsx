import { parseNumber } from "../geometry/length";
import { useNumberDraft, type Range } from "./useNumberDraft";

/** A number with its unit, also as a sum ("3*12+4"); committed by Enter or on leaving, put back by Escape. */
export function NumberField({
  label,
  value,
  unit,
  digits,
  onCommit,
  width = 84,
  factor = 1,
  isLow = false,
  range,
}: {
  label: string;
  value: number;
  unit: string;
  digits: number;
  onCommit: (value: number) => void;
  width?: number;
  /** Less high, for rows that stand close. */
  isLow?: boolean;
  /** Shown value = value × factor. */
  factor?: number;
  /** What it takes, as shown. */
  range?: Range;
}) {
  const { isWrong, props } = useNumberDraft({
    shown: (value * factor).toFixed(digits),
    digits,
    parse: (text) => parseNumber(text, unit),
    onCommit: (typed) => onCommit(typed / factor),
    help: "A number or a sum; arrows and the wheel step it",
    range,
  });
  return (
    <span
      className={`inline-flex shrink-0 items-center rounded-[4px] border bg-sheet ${isWrong ? "border-wrong" : "border-line focus-within:border-plum"}`}
      style={{ width }}
    >
      <input
        aria-label={label}
        inputMode="decimal"
        className={`figure w-full min-w-0 bg-transparent ${isLow ? "px-1 py-0 leading-[17px]" : "px-1.5 py-0.5"} text-right outline-none`}
        {...props}
      />
      <span className="pr-1.5 text-faint">{unit}</span>
    </span>
  );
}
