import { Dialog } from "radix-ui";
import { useMemo, type ReactNode } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Plan } from "../../api/generated/Plan";
import { fixed } from "../../ui/format";
import { layersText, regionName, slotName } from "./names";

/** The score as text: neighbouring layers with the same slots in one row. For screen readers and for print. */
export function ScoreTable({ job, plan, children }: { job: JobView; plan: Plan; children: ReactNode }) {
  return (
    <Dialog.Root>
      <Dialog.Trigger asChild>{children}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="screen-only fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          data-sheet
          className="fixed inset-x-[12%] inset-y-[6%] z-50 flex flex-col rounded-[6px] border border-line bg-sheet shadow-lg print:static print:block print:border-0 print:shadow-none"
          aria-describedby={undefined}
        >
          <div className="flex items-baseline justify-between border-b border-line px-5 py-3">
            <Dialog.Title className="text-[15px]">{job.name}: the score as a table</Dialog.Title>
            <span className="screen-only flex gap-4">
              <button type="button" className="font-semibold text-plum hover:underline" onClick={() => window.print()}>
                Print
              </button>
              <Dialog.Close className="font-semibold text-plum hover:underline">Close</Dialog.Close>
            </span>
          </div>
          <div className="min-h-0 flex-1 overflow-y-auto px-5 pb-4 print:overflow-visible">
            <Rows job={job} plan={plan} />
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Rows({ job, plan }: { job: JobView; plan: Plan }) {
  const rows = useMemo(() => runs(plan), [plan]);
  return (
    <table className="w-full text-left text-[12.5px]">
      <thead className="sticky top-0 bg-sheet text-soft">
        <tr className="border-b border-line [&>th]:py-1.5 [&>th]:pr-4 [&>th]:font-semibold">
          <th>Layers</th>
          <th className="text-right">Heights, mm</th>
          <th>Slots</th>
          <th className="text-right">Swaps</th>
          <th className="text-right">Purge, mm³</th>
          <th>Swapped in for</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.first} className="border-b border-line align-top [&>td]:py-1 [&>td]:pr-4">
            <td>{layersText(r.first, r.last)}</td>
            <td className="figure text-right">
              {fixed(r.low, 2)}–{fixed(r.high, 2)}
            </td>
            <td>{r.slots.map((s) => slotName(job, s)).join(", ") || "nothing"}</td>
            <td className="figure text-right">{r.swaps}</td>
            <td className="figure text-right">{fixed(r.purge, 0)}</td>
            <td>{[...r.regions].map((k) => regionName(job, k)).join(", ")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Neighbouring layers that print from the same slots. */
function runs(plan: Plan) {
  const out: {
    first: number;
    last: number;
    low: number;
    high: number;
    slots: number[];
    swaps: number;
    purge: number;
    regions: Set<string>;
  }[] = [];
  for (const layer of plan.layers) {
    const slots = [...layer.order].sort((a, b) => a - b);
    const open = out.at(-1);
    if (open && open.slots.join() === slots.join()) {
      open.last = layer.index;
      open.high = layer.z1_mm;
    } else
      out.push({
        first: layer.index,
        last: layer.index,
        low: layer.z0_mm,
        high: layer.z1_mm,
        slots,
        swaps: 0,
        purge: 0,
        regions: new Set(),
      });
  }
  for (const swap of plan.swaps) {
    const run = out.find((r) => swap.layer >= r.first && swap.layer <= r.last);
    if (!run) continue;
    run.swaps++;
    run.purge += swap.purge_mm3;
    swap.regions.forEach((r) => run.regions.add(r));
  }
  return out;
}
