import { useState } from "react";

/** A colour typed as hex ("#c7452f", "c7452f") or as three numbers from 0 to 255. */
export function ColourField({ label, value, onCommit }: { label: string; value: string; onCommit: (hex: string) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const typed = draft === null ? null : parseColour(draft);
  const isWrong = draft !== null && draft.trim() !== "" && typed === null;
  const commit = () => {
    setDraft(null);
    if (typed && typed !== value) onCommit(typed);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={isWrong}
      title={isWrong ? "Type a colour such as #c7452f or 199, 69, 47" : undefined}
      className={`figure w-[112px] rounded-[4px] border bg-sheet px-1.5 py-0.5 text-right text-ink outline-none ${isWrong ? "border-wrong" : "border-line focus:border-plum"}`}
      value={draft ?? value}
      onChange={(e) => setDraft(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={commit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") setDraft(null);
      }}
    />
  );
}

export function parseColour(text: string): string | null {
  const hex = /^#?([0-9a-f]{6})$/i.exec(text.trim())?.[1];
  if (hex) return `#${hex.toLowerCase()}`;
  const numbers = text.match(/\d+/g)?.map(Number) ?? [];
  const isRgb = numbers.length === 3 && /^[\srgb(),;\d]*$/i.test(text) && numbers.every((n) => n <= 255);
  return isRgb ? `#${numbers.map((n) => n.toString(16).padStart(2, "0")).join("")}` : null;
}
