import { useState } from "react";
import type { Calibration } from "../../api/generated/Calibration";
import type { JobView } from "../../api/generated/JobView";
import type { Measured } from "../../api/generated/Measured";
import { Refused } from "../../api/client";
import { usePlanning } from "../../api/planning";
import { Button } from "../../ui/Button";
import { fixed, percent } from "../../ui/format";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { slotName } from "../score/names";

const size: [number, number] = [388, 120];

/** Fits the nozzle's melt zone to rinses that were watched, and shows how well it fits. */
export function CalibrationForm({ job }: { job: JobView }) {
  const [rinses, setRinses] = useState<Measured[]>(job.printer.rinses ?? []);
  const { fit, keepFit } = usePlanning(job.id);
  const slots = job.slots.map((s) => s.slot);
  const options = slots.map((s) => ({ value: String(s), label: slotName(job, s) }));
  const [pair, setPair] = useState<[string, string]>(["1", String(Math.min(2, slots.length))]);
  const [length, setLength] = useState(180);
  const colour = (slot: string) => job.slots[Number(slot) - 1]?.colour ?? "#888888";
  const change = (next: Measured[]) => {
    setRinses(next);
    if (next.length > 0) fit.mutate(next);
    else fit.reset();
  };
  const refused = fit.error instanceof Refused ? fit.error.problem : null;
  const melt = job.printer.melt;
  return (
    <details className="mt-2.5" onToggle={(e) => e.currentTarget.open && rinses.length > 0 && !fit.data && fit.mutate(rinses)}>
      <summary className="cursor-pointer text-[12.5px] font-semibold text-plum hover:underline">Fit it to your nozzle</summary>
      <p className="py-1 text-[12px] text-soft">
        Now: a melt zone of <span className="figure text-ink">{fixed(melt.volume_mm3, 1)} mm³</span> that mixes like{" "}
        {melt.tanks === 1 ? "one tank" : `${melt.tanks} tanks`}. Swap by hand, push filament through until it looks clean, and type how much
        that was.
      </p>
      <div className="flex flex-wrap items-center gap-1.5 py-1">
        <Select label="From" value={pair[0]} options={options} onChange={(v) => setPair([v, pair[1]])} className="w-[112px]" />
        →
        <Select label="To" value={pair[1]} options={options} onChange={(v) => setPair([pair[0], v])} className="w-[112px]" />
        <NumberField label="Clean after" value={length} unit="mm" digits={0} width={70} onCommit={setLength} />
        <Button
          onClick={() =>
            change([...rinses, { from: colour(pair[0]), to: colour(pair[1]), clean_mm: length, tolerance: job.printer.tolerance }])
          }
        >
          Add
        </Button>
      </div>
      <ul aria-label="Measured rinses">
        {rinses.map((r, i) => {
          const point = fit.data?.points[i];
          return (
            <li key={i} className="flex items-center gap-2 border-t border-line py-1">
              <span className="figure w-4 text-faint">{i + 1}</span>
              <span
                className="h-3 w-6 border border-black/30"
                style={{ background: `linear-gradient(to right, ${r.from} 50%, ${r.to} 50%)` }}
                title={`${r.from} to ${r.to}`}
              />
              <span className="figure flex-1">
                {fixed(r.clean_mm, 0)} mm{point && <span className="text-soft"> · fit says {fixed(point.fitted_mm, 0)}</span>}
              </span>
              <button
                type="button"
                className="text-[12px] font-semibold text-plum hover:underline"
                onClick={() => change(rinses.filter((_, n) => n !== i))}
              >
                Remove
              </button>
            </li>
          );
        })}
      </ul>
      {refused && (
        <p className="py-1 text-wrong" role="alert">
          {refused.message}. {refused.mend}
        </p>
      )}
      {fit.data && rinses.length > 0 && !refused && (
        <>
          <FitChart fit={fit.data} />
          <p className="py-1 text-[12.5px]">
            Fitted: <span className="figure font-semibold">{fixed(fit.data.melt.volume_mm3, 1)} mm³</span>,{" "}
            {fit.data.melt.tanks === 1 ? "one tank" : `${fit.data.melt.tanks} tanks`}; off by{" "}
            <span className="figure">{fixed(fit.data.error_mm, 0)} mm</span> ({percent(fit.data.error_share)}) on average.
            {!fit.data.is_tanks_fitted && (
              <span className="text-soft"> How it mixes stays as it was: that takes two rinses of other colours.</span>
            )}
          </p>
          <Button kind="main" disabled={keepFit.isPending} onClick={() => keepFit.mutate(rinses)}>
            Keep it with the printer
          </Button>
        </>
      )}
    </details>
  );
}

/** Share of the old colour against length, logarithmic, with what was measured. */
function FitChart({ fit }: { fit: Calibration }) {
  const [width, height] = size;
  const end = fit.curve.at(-1)?.[0] ?? 1;
  const lowest = Math.log10(Math.max(1e-6, Math.min(...fit.points.map((p) => p.share)) / 3));
  const x = (mm: number) => 34 + (mm / end) * (width - 44);
  const y = (share: number) => 8 + (Math.log10(Math.max(share, 1e-9)) / lowest) * (height - 30);
  const path = fit.curve
    .filter(([, s]) => y(s) <= height - 22)
    .map(([mm, s], i) => `${i ? "L" : "M"}${x(mm)} ${y(s)}`)
    .join("");
  return (
    <svg width={width} height={height} role="img" aria-label="The fit and what was measured" className="mt-1 block">
      <path d={`M34 8V${height - 22}H${width - 10}`} stroke="#76787c" fill="none" />
      <path d={path} stroke="#6a2859" strokeWidth="1.6" fill="none" />
      {fit.points.map((p, i) => (
        <g key={i}>
          <line x1={x(p.measured_mm)} x2={x(p.fitted_mm)} y1={y(p.share)} y2={y(p.share)} stroke="#a5252b" strokeDasharray="2 2" />
          <circle cx={x(p.measured_mm)} cy={y(p.share)} r="3.5" fill="#fff" stroke="#1d1d1f" strokeWidth="1.4" />
          <text x={x(p.measured_mm) + 6} y={y(p.share) - 4} className="figure" fontSize="10.5" fill="#5d5f63">
            {i + 1}
          </text>
        </g>
      ))}
      <text x={30} y={14} textAnchor="end" className="figure" fontSize="10.5" fill="#5d5f63">
        1
      </text>
      <text x={30} y={height - 24} textAnchor="end" className="figure" fontSize="10.5" fill="#5d5f63">
        {(10 ** lowest).toPrecision(1)}
      </text>
      <text x={width - 10} y={height - 8} textAnchor="end" fontSize="10.5" fill="#5d5f63">
        {fixed(end, 0)} mm pushed through
      </text>
      <text x={34} y={height - 8} fontSize="10.5" fill="#5d5f63">
        old colour left, against length
      </text>
    </svg>
  );
}
