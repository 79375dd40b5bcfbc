import type { JobView } from "../../api/generated/JobView";
import type { Swap } from "../../api/generated/Swap";
import { Dot } from "../../ui/Dot";
import { fixed } from "../../ui/format";
import { regionName, slotColour, slotName } from "./names";

/** What one swap is for and what it takes, beside the pointer. */
export function SwapTip({ job, swap, x, y, width }: { job: JobView; swap: Swap; x: number; y: number; width: number }) {
  const wide = 248;
  const parts = [
    [swap.split.marked_mm3, "what takes it"],
    [swap.split.infill_mm3 - swap.split.marked_mm3, "infill"],
    [swap.split.tower_mm3, "tower"],
    [swap.split.bin_mm3, "bin"],
    [swap.split.hand_mm3, "by hand"],
  ] as const;
  const goes = parts.filter(([mm3]) => mm3 > 0.05).map(([mm3, where]) => `${fixed(mm3, 0)} ${where}`);
  return (
    <div
      role="tooltip"
      className="pointer-events-none absolute z-20 rounded-[4px] border border-line bg-sheet px-2.5 py-2 text-[12px] shadow-md"
      style={{ width: wide, left: Math.min(Math.max(4, x + 12), width - wide - 4), top: y }}
    >
      <p className="flex items-center gap-1.5 font-semibold">
        <Dot colour={slotColour(job, swap.from)} /> {slotName(job, swap.from)} → <Dot colour={slotColour(job, swap.to)} />{" "}
        {slotName(job, swap.to)}
      </p>
      <p className="text-soft">
        Layer {swap.layer + 1} at <span className="figure">{fixed(swap.z_mm, 2)} mm</span>, for{" "}
        {swap.regions.map((r) => regionName(job, r)).join(", ")}
      </p>
      <p className="figure mt-1">
        {fixed(swap.purge_mm3, 0)} mm³ · {fixed(swap.purge_mm, 0)} mm · {fixed(swap.seconds, 0)} s
      </p>
      {goes.length > 0 && <p className="figure text-soft">{goes.join(" + ")}</p>}
      {swap.extra_mm3 > 0.5 && (
        <p className="text-soft">
          of it <span className="figure">{fixed(swap.extra_mm3, 0)} mm³</span> for another plastic or temperature
        </p>
      )}
      {swap.heat_s > 0.5 && (
        <p className="text-soft">
          waits <span className="figure">{fixed(swap.heat_s, 0)} s</span> for the nozzle
        </p>
      )}
      {swap.is_reload && <p className="font-semibold text-look">A spool is put in by hand first</p>}
    </div>
  );
}
