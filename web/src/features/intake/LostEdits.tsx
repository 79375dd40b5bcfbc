import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import { Button } from "../../ui/Button";
import { fixed } from "../../ui/format";

/** Edits that found no place on a model's new version, with where they were. */
export function LostEdits({ job }: { job: JobView }) {
  const [seen, setSeen] = useState("");
  const key = job.lost.map((l) => l.number).join();
  if (job.lost.length === 0 || seen === key) return null;
  return (
    <section className="border-b border-line bg-sheet px-5 py-3" aria-label="Lost edits">
      <div className="flex items-baseline justify-between">
        <h2 className="font-semibold text-look">
          ! {job.lost.length === 1 ? "One edit" : `${job.lost.length} edits`} found no place on the new version
        </h2>
        <Button kind="link" onClick={() => setSeen(key)}>
          Seen
        </Button>
      </div>
      <ul className="mt-1">
        {job.lost.map((l) => (
          <li key={l.number} className="border-t border-line py-1">
            {l.what}
            {l.at && <span className="figure text-soft"> at {l.at.map((c) => fixed(c, 1)).join(", ")} mm</span>}
            <span className="block text-soft">{l.why.message}</span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-soft">Undo brings the old version back.</p>
    </section>
  );
}
