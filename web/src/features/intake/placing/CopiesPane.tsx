import { useState } from "react";
import { limits } from "../../../api/generated/limits";
import type { JobView } from "../../../api/generated/JobView";
import { useChanges } from "../../../api/queries";
import { Button } from "../../../ui/Button";
import { LengthField } from "../../../ui/LengthField";
import { NumberField } from "../../../ui/NumberField";
import { nameOf, type Selection } from "../../../state/intake";

/** How many pieces of everything stand on the bed, and more of one model beside the others. */
export function CopiesPane({ job, selection }: { job: JobView; selection: Selection }) {
  const { edit } = useChanges(job.id);
  const [count, setCount] = useState(1);
  const model = selection.of === "everything" ? null : nameOf({ of: "model", model: selection.model }, job);
  const { across, along, spacing_mm } = job.copies;
  const [mostX, mostY] = job.most_copies;
  const isOver = across > mostX || along > mostY;
  const set = (change: Partial<typeof job.copies>) => edit({ edit: "set-copies", ...job.copies, ...change });
  return (
    <div>
      <div className="flex items-center gap-3">
        {(["across", "along"] as const).map((way) => (
          <NumberField
            key={way}
            label={`Pieces ${way}`}
            value={job.copies[way]}
            unit={way === "across" ? "×" : ""}
            digits={0}
            width={way === "across" ? 64 : 56}
            range={limits.pieces}
            onCommit={(n) => set({ [way]: Math.round(n) })}
          />
        ))}
        <label className="flex items-center gap-2">
          gap <LengthField label="Gap" value={spacing_mm} width={84} range={limits.spacing} onCommit={(mm) => set({ spacing_mm: mm })} />
        </label>
        <Button onClick={() => edit({ edit: "fill-bed", spacing_mm })}>
          Fill the bed:{" "}
          <span className="figure">
            {mostX} × {mostY}
          </span>
        </Button>
        <Button disabled={across * along === 1} onClick={() => set({ across: 1, along: 1 })}>
          Just one
        </Button>
      </div>
      <p className={`mt-1.5 text-[12px] ${isOver ? "text-look" : "text-soft"}`}>
        {isOver
          ? `! The bed holds ${mostX} × ${mostY} at this gap.`
          : across * along > 1
            ? `${across * along} pieces share every swap.`
            : "Pieces printed at once share every swap."}
      </p>
      {model !== null && (
        <div className="mt-2 flex items-center gap-3 border-t border-line pt-2">
          <NumberField
            label="More of the model"
            value={count}
            unit=""
            digits={0}
            width={56}
            range={limits.copies}
            onCommit={(n) => setCount(Math.round(n))}
          />
          <Button onClick={() => edit({ edit: "copy-model", model, count, spacing_mm })}>
            more of <b className="font-semibold">{model}</b>
          </Button>
          <span className="text-[12px] text-soft">coloured like it, each a model of its own</span>
        </div>
      )}
    </div>
  );
}
