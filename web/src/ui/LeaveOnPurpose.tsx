import { useState } from "react";
import { Button } from "./Button";

/** Leaves something on purpose, with a note, or takes it up again. */
export function LeaveOnPurpose({
  accepted,
  isOff,
  onLeave,
}: {
  /** Why it is left, if it is. */
  accepted: string | null;
  isOff: boolean;
  onLeave: (note: string | null) => void;
}) {
  const [note, setNote] = useState<string | null>(null);
  const look = "whitespace-nowrap text-[12.5px] text-soft hover:text-ink hover:underline";
  if (accepted !== null)
    return (
      <button type="button" className={look} disabled={isOff} onClick={() => onLeave(null)}>
        Take it up again
      </button>
    );
  if (note === null)
    return (
      <button type="button" className={look} disabled={isOff} onClick={() => setNote("")}>
        Leave it
      </button>
    );
  return (
    <form
      className="flex min-w-40 flex-1 gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onLeave(note);
        setNote(null);
      }}
    >
      <input
        autoFocus
        aria-label="Why it is left as it is"
        placeholder="Why, if you like"
        className="min-w-0 flex-1 rounded-[4px] border border-line bg-sheet px-1.5 text-[12.5px]"
        value={note}
        maxLength={1000}
        onChange={(e) => setNote(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && setNote(null)}
      />
      <Button kind="link" className="text-[12.5px]" type="submit">
        Leave it
      </Button>
    </form>
  );
}

/** That something is left on purpose, and why. */
export function LeftOnPurpose({ accepted }: { accepted: string }) {
  return <p className="text-[12px] text-soft">Left on purpose{accepted && `: ${accepted}`}.</p>;
}
