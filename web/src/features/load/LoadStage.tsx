import type { JobView } from "../../api/generated/JobView";
import type { Plan } from "../../api/generated/Plan";
import type { Spool } from "../../api/generated/Spool";
import { useChanges, usePlan, useRack } from "../../api/queries";
import { useLatestPlan } from "../score/useLatestPlan";
import { fixed, grams } from "../../ui/format";
import { Select } from "../../ui/Select";
import { Trouble, Waiting } from "../../ui/states";
import { Swatch } from "../../ui/Swatch";
import { PrinterForm } from "./PrinterForm";

/** Regions to slots, slots to spools, and the printer: a plain form. */
export function LoadStage({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  const rack = useRack();
  const latest = useLatestPlan(usePlan(job.id).data);
  if (rack.isPending) return <Waiting what="Looking at the rack" />;
  if (rack.error) return <Trouble error={rack.error} retry={() => void rack.refetch()} />;
  const spools = rack.data.spools;
  const needed = latest ? gramsBySlot(latest.plan, job) : new Map<number, number>();
  const slotOptions = [
    { value: "0", label: "No slot" },
    ...job.slots.map((s) => ({ value: String(s.slot), label: `${s.slot} · ${s.spool?.name ?? "empty"}` })),
  ];
  const spoolOptions = [
    { value: "none", label: "Empty" },
    ...spools.map((s) => ({ value: s.id, label: <SpoolName spool={s} /> })),
  ];
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto grid max-w-[1200px] grid-cols-[1fr_1.15fr_0.95fr] gap-10 px-10 py-7">
        <section aria-label="Colour regions">
          <h2 className="heading mb-2">Colour regions</h2>
          <ul className="border-t border-line">
            {job.regions.map((r) => {
              const total = latest?.plan.regions.find((t) => t.region === r.key);
              return (
                <li key={r.key} className="flex items-center gap-3 border-b border-line py-2.5">
                  <Swatch colour={r.colour} />
                  <span className="min-w-0 flex-1">
                    <span className="block truncate font-medium" title={r.name}>{r.name}</span>
                    <span className="figure block text-[12px] text-soft">needs {total ? grams(total.grams) : "…"}</span>
                  </span>
                  <Select label={`Slot of ${r.name}`} value={String(r.slot ?? 0)} options={slotOptions} className="w-44" onChange={(v) => edit({ edit: "assign-slot", region: r.key, slot: v === "0" ? null : Number(v) })} />
                </li>
              );
            })}
          </ul>
          {job.regions.some((r) => r.slot === null) && (
            <p className="mt-3 font-medium text-look">! A region without a slot prints from the first region's slot.</p>
          )}
        </section>
        <section aria-label="Slots">
          <h2 className="heading mb-2">{job.printer.name}</h2>
          <ul className="border-t border-line">
            {job.slots.map((s) => {
              const need = needed.get(s.slot) ?? 0;
              const isShort = s.spool !== null && need > s.spool.left_g;
              return (
                <li key={s.slot} className="flex items-center gap-3 border-b border-line py-2.5">
                  <span className="figure w-12 shrink-0 font-semibold">Slot {s.slot}</span>
                  <Select label={`Spool in slot ${s.slot}`} value={s.spool?.id ?? "none"} options={spoolOptions} className="min-w-0 flex-1" onChange={(v) => edit({ edit: "load-slot", slot: s.slot, spool: v === "none" ? null : v })} />
                  <span className={`figure w-32 shrink-0 text-right text-[12px] ${isShort ? "font-semibold text-wrong" : "text-soft"}`}>
                    {isShort && "! "}needs {grams(need)}
                    <span className="block">{s.spool ? `of ${fixed(s.spool.left_g, 0)} g left` : need > 0 ? "no spool" : "unused"}</span>
                  </span>
                </li>
              );
            })}
          </ul>
          <PrinterForm job={job} />
        </section>
        <section aria-label="Spool rack">
          <h2 className="heading mb-2">Spool rack</h2>
          <ul className="border-t border-line">
            {spools.map((s) => (
              <li key={s.id} className="flex items-center gap-3 border-b border-line py-2">
                <span className="grid size-7 shrink-0 place-items-center rounded-full border border-black/25" style={{ background: s.colour }}>
                  <span className="size-2 rounded-full bg-paper" />
                </span>
                <span className="min-w-0 flex-1">
                  <span className="block truncate font-medium" title={s.name}>{s.name}</span>
                  <span className="figure block text-[12px] text-soft">{fixed(s.density_g_cm3, 2)} g/cm³ · {fixed(s.price_per_kg, 2)} per kg</span>
                </span>
                <span className="figure shrink-0 text-soft">{fixed(s.left_g, 0)} g left</span>
              </li>
            ))}
          </ul>
          {spools.length === 0 && <p className="py-3 text-soft">The rack is empty.</p>}
        </section>
      </div>
    </div>
  );
}

function SpoolName({ spool }: { spool: Spool }) {
  return (
    <span className="flex items-center gap-2">
      <span className="size-3 shrink-0 rounded-full border border-black/25" style={{ background: spool.colour }} />
      {spool.name}
    </span>
  );
}

/** Model and purge per slot, in grams of the loaded spool. */
function gramsBySlot(plan: Plan, job: JobView): Map<number, number> {
  const volumes = new Map<number, number>();
  const add = (slot: number, mm3: number) => volumes.set(slot, (volumes.get(slot) ?? 0) + mm3);
  for (const layer of plan.layers) {
    for (const [slot, mm3] of Object.entries(layer.extruded_mm3)) add(Number(slot), mm3);
  }
  for (const swap of plan.swaps) add(swap.to, swap.purge_mm3);
  return new Map([...volumes].map(([slot, mm3]) => [slot, (mm3 * (job.slots[slot - 1]?.spool?.density_g_cm3 ?? 1.24)) / 1000]));
}
