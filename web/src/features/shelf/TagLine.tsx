import { useState } from "react";
import { Button } from "../../ui/Button";

/** Tags typed with commas between; nothing when it is put back. */
export function TagLine({ label, value, onDone }: { label: string; value: string; onDone: (tags: string[] | null) => void }) {
  const [text, setText] = useState(value);
  const take = () => onDone(text.split(",").map((t) => t.trim()));
  return (
    <div className="flex items-center gap-2 pb-3 pl-9 pr-3">
      <input
        autoFocus
        aria-label={label}
        placeholder="With commas between"
        className="w-96 rounded-[4px] border border-line bg-sheet px-2 py-1 focus:border-plum focus:outline-none"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") take();
          if (e.key === "Escape") onDone(null);
        }}
      />
      <Button onClick={take}>Keep</Button>
    </div>
  );
}
