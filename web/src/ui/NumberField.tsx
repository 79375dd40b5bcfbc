import { useState } from "react";

/** A number with its unit; committed by Enter or on leaving, put back by Escape. */
export function NumberField({
  label,
  value,
  unit,
  digits,
  onCommit,
  width = 84,
  factor = 1,
  isLow = false,
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
}) {
  const shown = (value * factor).toFixed(digits);
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const typed = Number((draft ?? shown).replace(",", "."));
    setDraft(null);
    if (draft !== null && Number.isFinite(typed) && typed !== Number(shown)) onCommit(typed / factor);
  };
  return (
    <span
      className="inline-flex shrink-0 items-center rounded-[4px] border border-line bg-sheet focus-within:border-plum"
      style={{ width }}
    >
      <input
        aria-label={label}
        inputMode="decimal"
        className={`figure w-full min-w-0 bg-transparent ${isLow ? "px-1 py-0 leading-[17px]" : "px-1.5 py-0.5"} text-right outline-none`}
        value={draft ?? shown}
        onChange={(e) => setDraft(e.target.value)}
        onFocus={(e) => e.target.select()}
        onBlur={commit}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") setDraft(null);
        }}
      />
      <span className="pr-1.5 text-faint">{unit}</span>
    </span>
  );
}
