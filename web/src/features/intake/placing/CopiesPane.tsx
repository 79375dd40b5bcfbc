import { limits } from "../../../api/generated/limits";
import type { JobView } from "../../../api/generated/JobView";
import { useChanges } from "../../../api/queries";
import { Button } from "../../../ui/Button";
import { LengthField } from "../../../ui/LengthField";
import { NumberField } from "../../../ui/NumberField";

/** How many pieces of everything stand on the bed. */
export function CopiesPane({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
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
    </div>
  );
}
