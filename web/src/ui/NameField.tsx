import { useState } from "react";

/** A name that can be typed over in place. */
export function NameField({
  label,
  value,
  onCommit,
  className = "",
  canBeEmpty = false,
}: {
  label: string;
  value: string;
  onCommit: (name: string) => void;
  className?: string;
  canBeEmpty?: boolean;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const typed = (draft ?? value).trim();
    setDraft(null);
    if ((typed || canBeEmpty) && typed !== value) onCommit(typed);
  };
  return (
    <input
      aria-label={label}
      title={value}
      className={`w-full min-w-0 truncate rounded-[3px] border border-transparent bg-transparent px-1 -mx-1 hover:border-line focus:border-plum focus:bg-sheet focus:outline-none ${className}`}
      value={draft ?? value}
      onChange={(e) => setDraft(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={commit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") {
          setDraft(null);
          e.currentTarget.blur();
        }
      }}
    />
  );
}
