import { useState } from "react";
import { useLoading } from "../../api/loading";
import { Button } from "../../ui/Button";

/** The key that a printer wants to hear. It is typed in and never shown again. */
export function PrinterKey({ job, hasKey }: { job: number; hasKey: boolean }) {
  const { setKey } = useLoading(job);
  const [typed, setTyped] = useState("");
  const keep = () => {
    if (typed.trim() !== "") setKey(typed.trim());
    setTyped("");
  };
  return (
    <span className="flex min-w-0 items-center gap-2">
      {hasKey && typed === "" && (
        <Button kind="link" className="text-[12px]" onClick={() => setKey(null)}>
          Forget
        </Button>
      )}
      <input
        type="password"
        autoComplete="off"
        aria-label="Key of the printer"
        title="What the printer wants to hear before it answers. It stays on this computer."
        placeholder={hasKey ? "kept" : "none"}
        className="w-full min-w-0 rounded-[3px] border border-line bg-sheet px-1 text-right placeholder:text-faint focus:border-plum focus:outline-none"
        value={typed}
        maxLength={500}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") setTyped("");
        }}
      />
    </span>
  );
}
