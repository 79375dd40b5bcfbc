import { Eye } from "lucide-react";
import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { count } from "../../ui/format";
import { NameField } from "../../ui/NameField";

/** The parts, each with the way to give it whole to the chosen region. */
export function PartList({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  const { region, alone, setAlone } = useBench();
  const chosen = job.regions.find((r) => r.key === region);
  const parts = job.models.flatMap((m, model) => m.parts.map((part, number) => ({ model: m.name, part, part_: { model, part: number } })));
  return (
    <section aria-label="Parts" className="border-t border-line">
      <div className="flex items-baseline justify-between px-3.5 pb-1 pt-3">
        <h2 className="heading">Parts</h2>
        <span className="figure heading">{parts.length}</span>
      </div>
      <ul className="pb-3">
        {parts.map(({ model, part, part_ }, i) => {
          const own = job.regions.find((r) => r.number === part.own);
          const at = { model, point: part.point, normal: part.normal };
          return (
            <li key={`${model} ${i}`} className="flex items-center gap-2 px-3.5 py-1 hover:bg-sheet">
              <span className="size-2.5 shrink-0 rounded-full border border-black/25" style={{ background: own?.colour }} title={`Own region: ${own?.name ?? "none"}`} />
              <NameField label={`Name of part ${part.name}`} value={part.name} onCommit={(name) => edit({ edit: "rename-part", at, name })} />
              <span className="figure shrink-0 whitespace-nowrap text-[12px] text-soft" title={`${count(part.facets)} facets`}>{count(part.facets)}</span>
              <button
                type="button"
                aria-pressed={alone !== null && "part" in alone && alone.model === part_.model && alone.part === part_.part}
                aria-label={`Show ${part.name} alone`}
                title="Show this part alone"
                className="shrink-0 text-soft hover:text-ink aria-pressed:text-plum"
                onClick={() => setAlone(alone !== null && "part" in alone && alone.model === part_.model && alone.part === part_.part ? null : part_)}
              >
                <Eye size={14} aria-hidden />
              </button>
              <button
                type="button"
                className="shrink-0 text-[12px] font-semibold text-plum hover:underline"
                aria-label={`Give ${part.name} to ${chosen?.name ?? "the region"}`}
                title={`Give the whole part to ${chosen?.name ?? "the region"}`}
                onClick={() => edit({ edit: "give-part", region, at })}
              >
                Give
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
