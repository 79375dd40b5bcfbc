import { parseLength } from "../geometry/length";
import { useNumberDraft, type Range } from "./useNumberDraft";

/** A length in mm that takes other units and sums too ("1.5in", "2*0.2+0.04"); committed by Enter or on leaving, put back by Escape. */
export function LengthField({
  label,
  value,
  digits = 1,
  onCommit,
  width = 84,
  prefix,
  disabled,
  isLow = false,
  range,
}: {
  label: string;
  value: number;
  digits?: number;
  onCommit: (mm: number) => void;
  width?: number;
  /** Less high, for rows that stand close. */
  isLow?: boolean;
  /** A letter before the number, such as the axis. */
  prefix?: string;
  disabled?: boolean;
  /** What it takes, mm. */
  range?: Range;
}) {
  const { isWrong, props } = useNumberDraft({
    shown: value.toFixed(digits),
    digits,
    parse: parseLength,
    onCommit,
    help: "Takes mm, cm, m, in, ft and sums of them",
    range,
  });
  return (
    <span
      className={`inline-flex shrink-0 items-center rounded-[4px] border bg-sheet ${isWrong ? "border-wrong" : "border-line focus-within:border-plum"}`}
      style={{ width }}
    >
      {prefix && <span className="pl-1.5 text-faint">{prefix}</span>}
      <input
        aria-label={label}
        disabled={disabled}
        className={`figure w-full min-w-0 bg-transparent ${isLow ? "px-1 py-0 leading-[17px]" : "px-1.5 py-0.5"} text-right outline-none disabled:text-faint`}
        {...props}
        onKeyDown={(e) => {
          e.stopPropagation();
          props.onKeyDown(e);
        }}
      />
      <span className="pr-1.5 text-faint">mm</span>
    </span>
  );
}
