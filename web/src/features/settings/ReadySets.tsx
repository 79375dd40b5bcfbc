import { useState } from "react";
import type { ReadySetView } from "../../api/generated/ReadySetView";
import { counted } from "../../ui/format";

/** The ready sets, each with what it would change. */
export function ReadySets({ sets, onTake }: { sets: ReadySetView[]; onTake: (set: ReadySetView) => void }) {
  const [open, setOpen] = useState<string | null>(null);
  const shown = sets.find((s) => s.name === open);
  return (
    <section aria-label="Ready sets" className="border-b border-line px-4 py-2.5">
      <div className="flex gap-1.5">
        {sets.map((s) => (
          <button
            key={s.name}
            type="button"
            aria-pressed={s.is_own}
            aria-expanded={open === s.name}
            className={`min-w-0 flex-1 rounded-[4px] border px-2 py-1 text-left ${s.is_own ? "border-plum" : "border-line hover:border-faint"} ${open === s.name ? "bg-plum-tint" : "bg-sheet"}`}
            onClick={() => setOpen(open === s.name ? null : s.name)}
          >
            <span className={`block truncate font-semibold ${s.is_own ? "text-plum" : ""}`}>{s.name}</span>
            <span className="block truncate text-[11.5px] text-soft">
              {s.changes.length === 0 ? "as it is" : counted(s.changes.length, "change")}
            </span>
          </button>
        ))}
      </div>
      {shown && (
        <div className="pt-2">
          <p className="text-soft">{shown.does}</p>
          {shown.changes.length > 0 && (
            <>
              <ul className="mt-1 max-h-40 overflow-y-auto">
                {shown.changes.map((c) => (
                  <li key={c.name} className="flex justify-between gap-3 border-b border-dotted border-line py-0.5 text-[12.5px]">
                    <span className="truncate">{c.name}</span>
                    <span className="figure shrink-0">
                      <span className="text-soft">{c.from}</span> → {c.to}
                    </span>
                  </li>
                ))}
              </ul>
              <button
                type="button"
                className="mt-2 rounded-[4px] border border-plum bg-plum px-3 py-1 font-semibold text-white hover:brightness-110"
                onClick={() => {
                  setOpen(null);
                  onTake(shown);
                }}
              >
                Print {shown.name === "As last time" ? "as last time" : shown.name.toLowerCase()}
              </button>
            </>
          )}
        </div>
      )}
    </section>
  );
}
