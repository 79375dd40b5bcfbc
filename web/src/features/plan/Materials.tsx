import type { JobView } from "../../api/generated/JobView";
import { fixed } from "../../ui/format";

/** What a jetting machine builds of each base material: it swaps and purges nothing, and its time is its own. */
export function Materials({ job }: { job: JobView }) {
  const usual = job.printer.materials?.[0]?.name ?? "Base material";
  const of = new Map<string, number>();
  for (const part of job.models.flatMap((m) => m.parts).filter((p) => p.is_printed)) {
    const name = part.made_of ?? usual;
    of.set(name, (of.get(name) ?? 0) + part.volume_mm3);
  }
  const pieces = job.copies.across * job.copies.along;
  return (
    <dl>
      {[...of].map(([name, mm3]) => (
        <div key={name} className="flex items-baseline justify-between gap-3 border-b border-dotted border-faint/60 py-[3.5px]">
          <dt className="min-w-0 truncate">{name}</dt>
          <dd className="figure shrink-0">{fixed((mm3 * pieces) / 1000, 2)} cm³</dd>
        </div>
      ))}
      <div className="flex items-baseline justify-between gap-3 py-[3.5px]">
        <dt>Swaps</dt>
        <dd className="figure">none</dd>
      </div>
    </dl>
  );
}
