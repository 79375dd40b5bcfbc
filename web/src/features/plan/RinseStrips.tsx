import type { JobView } from "../../api/generated/JobView";
import type { PairRinse } from "../../api/generated/PairRinse";
import { fixed } from "../../ui/format";

/** How each pair that occurs washes out: the colour that leaves the nozzle, and where it counts as clean. */
export function RinseStrips({ job, pairs }: { job: JobView; pairs: PairRinse[] }) {
  const longest = Math.max(1, ...pairs.map((p) => p.rinse.curve.at(-1)?.purged_mm3 ?? 0));
  const nameOf = (slot: number) => (job.slots[slot - 1]?.spool?.name ?? `Slot ${slot}`).replace(/ (PLA|PETG|ABS|TPU)$/, "");
  return (
    <section aria-label="Rinse">
      <div className="flex justify-between pb-1.5">
        <h2 className="heading">Rinse, worst pair first</h2>
        <span className="heading">clean at ΔE {fixed(job.printer.tolerance, 1)}</span>
      </div>
      {pairs.length === 0 && <p className="border-t border-line py-3 text-soft">No swaps, nothing to rinse.</p>}
      <ul className="border-t border-line">
        {pairs.map((p) => {
          const end = p.rinse.curve.at(-1)?.purged_mm3 ?? 1;
          const stops = p.rinse.curve.map((c) => `${c.hex} ${(100 * c.purged_mm3) / end}%`).join(", ");
          return (
            <li key={`${p.from}-${p.to}`} className="grid grid-cols-[136px_1fr_104px] items-center gap-3 border-b border-line py-1">
              <span className="text-[12.5px] leading-tight">{nameOf(p.from)} → {nameOf(p.to)}</span>
              <span className="relative h-[18px]" aria-hidden>
                <span className="absolute inset-y-0 left-0 border border-ink/60" style={{ width: `${(100 * end) / longest}%`, background: `linear-gradient(to right, ${stops})` }} />
                <span className="absolute -inset-y-1 w-[2px] bg-ink" style={{ left: `${(100 * p.rinse.purge_mm3) / longest}%` }} />
              </span>
              <span className="figure text-right text-[12px] text-soft">
                <span className="text-ink">{fixed(p.rinse.purge_mm3, 0)} mm³</span> ×{p.times}
                <span className="block">{fixed(p.rinse.purge_mm, 0)} mm each</span>
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
