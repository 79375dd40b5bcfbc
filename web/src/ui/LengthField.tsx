import { useState } from "react";
import { parseLength } from "../geometry/length";

/** A length in mm that takes other units too ("1.5in"); committed by Enter or on leaving, put back by Escape. */
export function LengthField({
  label,
  value,
  digits = 1,
  onCommit,
  width = 84,
  prefix,
  disabled,
  isLow = false,
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
}) {
  const shown = value.toFixed(digits);
  const [draft, setDraft] = useState<string | null>(null);
  const typed = draft === null ? null : parseLength(draft);
  const isWrong = draft !== null && draft.trim() !== "" && typed === null;
  const commit = () => {
    setDraft(null);
    if (typed !== null && draft !== shown) onCommit(typed);
  };
  return (
    <span
      className={`inline-flex shrink-0 items-center rounded-[4px] border bg-sheet ${isWrong ? "border-wrong" : "border-line focus-within:border-plum"}`}
      style={{ width }}
    >
      {prefix && <span className="pl-1.5 text-faint">{prefix}</span>}
      <input
        aria-label={label}
        aria-invalid={isWrong}
        disabled={disabled}
        title={isWrong ? "Type a length, such as 38, 1.5in or 2 cm" : "Takes mm, cm, m, in and ft"}
        className={`figure w-full min-w-0 bg-transparent ${isLow ? "px-1 py-0 leading-[17px]" : "px-1.5 py-0.5"} text-right outline-none disabled:text-faint`}
        value={draft ?? shown}
        onChange={(e) => setDraft(e.target.value)}
        onFocus={(e) => e.target.select()}
        onBlur={commit}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") setDraft(null);
        }}
      />
      <span className="pr-1.5 text-faint">mm</span>
    </span>
  );
}
