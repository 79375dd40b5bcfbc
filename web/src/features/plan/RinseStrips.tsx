import { limits } from "../../api/generated/limits";
import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PairRinse } from "../../api/generated/PairRinse";
import { useChanges } from "../../api/queries";
import { Dot } from "../../ui/Dot";
import { fixed } from "../../ui/format";
import { NumberField } from "../../ui/NumberField";
import { pointerDrag } from "../../ui/pointerDrag";
import { slotName } from "../score/names";
import { CalibrationForm } from "./CalibrationForm";
import { Explained } from "../words/Explained";

/** Step of the cut-off by keys, mm³. */
const step = 5;

/** How each pair that occurs washes out: the colour that leaves the nozzle, and where it counts as clean. */
export function RinseStrips({ job, pairs }: { job: JobView; pairs: PairRinse[] }) {
  const { edit } = useChanges(job.id);
  const longest = Math.max(1, ...pairs.map((p) => p.rinse.curve.at(-1)?.purged_mm3 ?? 0));
  if (!job.machine.rinses) {
    return (
      <p className="text-soft">
        Each filament has its own nozzle: nothing is rinsed. A change presses out{" "}
        <span className="figure text-ink">{fixed(job.printer.prime_mm3, 0)} mm³</span> and what has oozed.
      </p>
    );
  }
  return (
    <section aria-label="Rinse">
      <div className="flex items-center justify-between pb-1.5">
        <h2 className="heading">
          <Explained word="rinse">Rinses</Explained>, worst pair first
        </h2>
        <label className="heading flex items-center gap-1.5" title="Difference (CIEDE2000) that counts as clean; 2 is hardly seen">
          clean at{" "}
          <NumberField
            label="Difference that counts as clean"
            value={job.printer.tolerance}
            unit="ΔE"
            digits={1}
            width={62}
            isLow
            range={limits.tolerance}
            onCommit={(tolerance) => edit({ edit: "plan", do: "tolerance", tolerance })}
          />
        </label>
      </div>
      {pairs.length === 0 && <p className="border-t border-line py-3 text-soft">No swaps, nothing to rinse.</p>}
      <ul className="border-t border-line">
        {pairs.map((p) => (
          <Strip key={`${p.from}-${p.to}`} job={job} pair={p} longest={longest} />
        ))}
      </ul>
      {job.regions.length > 1 && <OwnTolerances job={job} />}
      <CalibrationForm job={job} />
    </section>
  );
}

function Strip({ job, pair: p, longest }: { job: JobView; pair: PairRinse; longest: number }) {
  const { edit } = useChanges(job.id);
  const [draft, setDraft] = useState<number | null>(null);
  const curve = p.rinse.curve;
  const end = curve.at(-1)?.purged_mm3 ?? 1;
  const stops = curve.map((c) => `${c.hex} ${(100 * c.purged_mm3) / end}%`).join(", ");
  const at = draft ?? p.purge_mm3;
  const set = (purge_mm3: number | null) =>
    edit({ edit: "plan", do: "cut-off", from: p.from, to: p.to, purge_mm3 }, { onSettled: () => setDraft(null) });
  const left = curve.find((c) => c.purged_mm3 >= at) ?? curve.at(-1);
  const off = draft === null ? p.delta_e : (left?.delta_e ?? 0);
  const mm = at * (p.purge_mm / Math.max(1e-9, p.purge_mm3));
  const name = `${slotName(job, p.from)} → ${slotName(job, p.to)}`;
  return (
    <li className="grid grid-cols-[126px_1fr_112px] items-center gap-3 border-b border-line py-[5px]">
      <span className="line-clamp-2 text-[12.5px] leading-tight" title={name}>
        {name}
      </span>
      <span
        className="relative h-[18px] touch-none"
        onPointerDown={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          const volume = (clientX: number) => Math.min(longest, Math.max(0, ((clientX - box.left) / box.width) * longest));
          let last: number | null = null;
          pointerDrag(
            e,
            (to) => {
              last = volume(to.clientX);
              setDraft(last);
            },
            (dropped) => {
              if (dropped && last !== null) set(Math.round(last));
              else setDraft(null);
            },
          );
        }}
      >
        <span
          className="absolute inset-y-0 left-0 border border-ink/60"
          style={{ width: `${(100 * end) / longest}%`, background: `linear-gradient(to right, ${stops})` }}
        />
        {p.is_set && (
          <span
            className="absolute -inset-y-0.5 border-l border-dashed border-ink/70"
            style={{ left: `${(100 * p.rinse.purge_mm3) / longest}%` }}
            title="Where the rinse would end"
          />
        )}
        <span
          role="slider"
          tabIndex={0}
          aria-label={`Cut-off from ${name}`}
          aria-valuemin={0}
          aria-valuemax={Math.round(longest)}
          aria-valuenow={Math.round(at)}
          aria-valuetext={`${fixed(at, 0)} mm³, difference ${fixed(off, 1)}`}
          className="absolute -inset-y-1 -ml-1.5 w-3 cursor-ew-resize"
          style={{ left: `${(100 * at) / longest}%` }}
          onKeyDown={(e) => {
            const by = { ArrowRight: step, ArrowUp: step, ArrowLeft: -step, ArrowDown: -step }[e.key];
            if (by !== undefined) set(Math.max(0, Math.round(p.purge_mm3 + by)));
            else if ((e.key === "Delete" || e.key === "Backspace") && p.is_set) set(null);
            else return;
            e.preventDefault();
          }}
        >
          <span className={`absolute inset-y-0 left-[5px] w-[2px] ${draft === null ? "bg-ink" : "bg-plum"}`} />
        </span>
      </span>
      <span className="figure text-right text-[12px] leading-tight text-soft">
        <span className="text-ink">{fixed(at, 0)} mm³</span> ×{p.times}
        <span className="block whitespace-nowrap text-[11.5px]">
          {p.is_set && draft === null ? (
            <button
              type="button"
              className="font-sans font-semibold text-plum hover:underline"
              title={`The rinse asks for ${fixed(p.rinse.purge_mm3 + p.extra_mm3, 0)} mm³`}
              onClick={() => set(null)}
            >
              as rinsed
            </button>
          ) : (
            `${fixed(mm, 0)} mm`
          )}
          <span className={off > job.printer.tolerance + 0.05 ? "text-look" : ""}> · ΔE {fixed(off, 1)}</span>
        </span>
      </span>
    </li>
  );
}

/** Regions that may stay dirtier, or have to be cleaner, than the rest. */
function OwnTolerances({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  const own = job.rules.tolerances;
  const count = Object.keys(own).length;
  return (
    <details className="mt-2.5">
      <summary className="cursor-pointer text-[12.5px] font-semibold text-plum hover:underline">
        Regions that count as clean otherwise{count > 0 && ` (${count})`}
      </summary>
      <p className="py-1 text-[12px] text-soft">A hidden inside may stay dirty: give it a larger difference, and its swaps purge less.</p>
      <ul>
        {job.regions.map((r) => (
          <li key={r.key} className="flex items-center gap-2 border-t border-line py-1">
            <Dot colour={r.colour} />
            <span className="min-w-0 flex-1 truncate">{r.name}</span>
            {own[r.key] !== undefined && (
              <button
                type="button"
                className="text-[12px] font-semibold text-plum hover:underline"
                onClick={() => edit({ edit: "plan", do: "tolerance", region: r.key, tolerance: null })}
              >
                as all
              </button>
            )}
            <NumberField
              label={`Clean at, for ${r.name}`}
              value={own[r.key] ?? job.printer.tolerance}
              unit="ΔE"
              digits={1}
              width={66}
              isLow
              range={limits.tolerance}
              onCommit={(tolerance) => edit({ edit: "plan", do: "tolerance", region: r.key, tolerance })}
            />
          </li>
        ))}
      </ul>
    </details>
  );
}
