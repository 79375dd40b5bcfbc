import { Switch } from "radix-ui";
import { useState } from "react";
import type { PrintSettingView } from "../../api/generated/PrintSettingView";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";

/** What a choice is set to: some carry more than their name. */
function chosen(value: unknown): string {
  if (typeof value === "string") return value;
  const is = (value as { is?: unknown } | null)?.is;
  return typeof is === "string" ? is : "";
}

/** The field of a setting, by what it is set to. */
export function SettingField({ view, onSet }: { view: PrintSettingView; onSet: (value: unknown) => void }) {
  const { setting, value, usual } = view;
  const { kind, name } = setting;
  switch (kind.is) {
    case "number":
      return (
        <NumberField
          label={name}
          value={Number(value ?? usual)}
          unit={kind.unit}
          digits={kind.digits}
          factor={kind.factor}
          width={104}
          isLow
          onCommit={(v) => onSet(kind.digits === 0 && kind.factor === 1 ? Math.round(v) : v)}
        />
      );
    case "switch":
      return (
        <Switch.Root
          aria-label={name}
          checked={value === true}
          onCheckedChange={onSet}
          className="h-[18px] w-8 rounded-full border border-line bg-sheet p-px data-[state=checked]:border-plum data-[state=checked]:bg-plum"
        >
          <Switch.Thumb className="block size-3.5 rounded-full bg-faint transition-transform data-[state=checked]:translate-x-3.5 data-[state=checked]:bg-white" />
        </Switch.Root>
      );
    case "choice":
      return (
        <span className="flex flex-col items-end gap-1">
          <Select
            label={name}
            value={chosen(value)}
            className="h-6 w-44 py-0!"
            options={kind.options.map(([key, words]) => ({ value: key, label: words }))}
            onChange={(key) => {
              if (setting.field !== "printing.seam") return onSet(key);
              onSet(key === "at" ? { is: "at", at: [0, 0] } : { is: key });
            }}
          />
          {chosen(value) === "at" && <Place value={value as { at: [number, number] }} onSet={onSet} />}
        </span>
      );
    case "word":
      return <Word label={name} value={String(value ?? "")} onSet={onSet} />;
    case "text":
      return <Lines label={name} value={String(value ?? "")} onSet={onSet} />;
  }
}

/** A place of the layers, mm. */
function Place({ value, onSet }: { value: { at: [number, number] }; onSet: (value: unknown) => void }) {
  const field = (axis: 0 | 1) => (
    <NumberField
      label={axis === 0 ? "Seam, across" : "Seam, deep"}
      value={value.at[axis]}
      unit="mm"
      digits={1}
      width={84}
      isLow
      onCommit={(v) => onSet({ is: "at", at: axis === 0 ? [v, value.at[1]] : [value.at[0], v] })}
    />
  );
  return (
    <span className="flex gap-1.5">
      {field(0)}
      {field(1)}
    </span>
  );
}

function Word({ label, value, onSet }: { label: string; value: string; onSet: (value: unknown) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  return (
    <input
      aria-label={label}
      className="figure h-6 w-26 rounded-[4px] border border-line bg-sheet px-1.5 text-right outline-none focus:border-plum"
      value={draft ?? value}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={() => {
        if (draft !== null && draft.trim() !== value) onSet(draft.trim());
        setDraft(null);
      }}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") setDraft(null);
      }}
    />
  );
}

function Lines({ label, value, onSet }: { label: string; value: string; onSet: (value: unknown) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  return (
    <textarea
      aria-label={label}
      rows={Math.min(6, Math.max(2, (draft ?? value).split("\n").length))}
      spellCheck={false}
      className="figure w-full resize-y rounded-[4px] border border-line bg-sheet px-1.5 py-0.5 text-[12px] outline-none focus:border-plum"
      value={draft ?? value}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={() => {
        if (draft !== null && draft !== value) onSet(draft);
        setDraft(null);
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") {
          e.stopPropagation();
          setDraft(null);
        }
      }}
    />
  );
}
