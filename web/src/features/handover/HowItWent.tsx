import { useState, type ReactNode } from "react";
import type { AboutRun } from "../../api/generated/AboutRun";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";

/** How long a print took and how it went, typed. */
export function HowItWent({
  about,
  says,
  isBusy,
  onSay,
  onCancel,
  children,
}: {
  about: AboutRun;
  /** What the button does. */
  says: string;
  isBusy: boolean;
  onSay: (about: AboutRun) => void;
  onCancel: () => void;
  children?: ReactNode;
}) {
  const minutes = Math.round((about.took_s ?? 0) / 60);
  const [hours, setHours] = useState(Math.floor(minutes / 60));
  const [rest, setRest] = useState(minutes % 60);
  const [note, setNote] = useState(about.note);
  const took_s = 3600 * hours + 60 * rest;
  return (
    <div className="border-b border-line py-2.5">
      <div className="flex items-center justify-between gap-3 py-1">
        <span>It took</span>
        <span className="flex gap-2">
          <NumberField label="Hours it took" value={hours} unit="h" digits={0} onCommit={(h) => setHours(Math.max(0, Math.round(h)))} />
          <NumberField label="Minutes it took" value={rest} unit="min" digits={0} onCommit={(m) => setRest(Math.max(0, Math.round(m)))} />
        </span>
      </div>
      {children}
      <textarea
        aria-label="How it went"
        placeholder="How it went"
        rows={2}
        maxLength={2000}
        value={note}
        onChange={(e) => setNote(e.target.value)}
        className="mt-1 w-full rounded-[4px] border border-line bg-sheet px-2 py-1 focus:border-plum focus:outline-none"
      />
      <div className="mt-1.5 flex justify-end gap-2">
        <Button onClick={onCancel}>Leave it</Button>
        <Button kind="main" disabled={isBusy} onClick={() => onSay({ took_s: took_s > 0 ? took_s : null, note: note.trim() })}>
          {says}
        </Button>
      </div>
    </div>
  );
}
