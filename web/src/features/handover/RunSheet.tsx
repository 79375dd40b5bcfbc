import { useJob, usePlan } from "../../api/queries";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { duration, fixed, grams, mm } from "../../ui/format";
import { Trouble, Waiting } from "../../ui/states";

/** The plan on paper, for the person at the machine. */
export function RunSheet({ id }: { id: number }) {
  const job = useJob(id);
  const plan = usePlan(id);
  if (job.error) return <Trouble error={job.error} retry={() => void job.refetch()} />;
  if (!job.data || plan.data?.state !== "ready") return <Waiting what="Writing the run sheet" />;
  const { layers, swaps, bill, start, reloads, cautions } = plan.data.plan;
  const nameOf = (slot: number) => job.data.slots[slot - 1]?.spool?.name ?? `${job.data.machine.slot_word.toLowerCase()} ${slot}`;
  const first = layers.find((l) => l.order.length > 0)?.order[0];
  // With fewer places than colours only the first spools are put in before the start.
  const used = new Set(start.length > 0 ? start : layers.flatMap((l) => l.order));
  /** Place of the machine that holds a slot's spool at the start. */
  const placeOf = (slot: number, machine: number) => (start.length > 0 ? start.indexOf(slot) + 1 : machine);
  const mixes = job.data.machine.mixes !== null;
  const places = job.data.places.filter((p) => mixes || used.has(p.place)).sort((a, b) => a.machine_place - b.machine_place);
  return (
    <div className="h-full overflow-y-auto print:h-auto print:overflow-visible">
      <div className="screen-only flex h-11 items-center justify-between border-b border-line px-3.5">
        <Button onClick={() => go(`/jobs/${id}/handover`)}>Back to Handover</Button>
        <Button kind="main" onClick={() => window.print()}>
          Print
        </Button>
      </div>
      <main className="mx-auto my-6 max-w-[760px] bg-sheet px-12 py-10 print:m-0 print:p-0">
        <h1 className="text-xl">{job.data.name}</h1>
        <p className="text-soft">Run sheet · {job.data.printer.name}</p>
        <dl className="mt-5 grid grid-cols-5 gap-4 border-y border-line py-3">
          {[
            ["Time", duration(bill.time_s)],
            ["Swaps", String(bill.swaps)],
            ["Model", grams(bill.model_g)],
            ["Purged", grams(bill.purge_g)],
            ["Tower", grams(bill.tower_g)],
          ].map(([name, value]) => (
            <div key={name}>
              <dt className="heading">{name}</dt>
              <dd className="figure text-[15px]">{value}</dd>
            </div>
          ))}
        </dl>
        <h2 className="mt-6 font-semibold">Before the start</h2>
        <table className="mt-1 w-full border-t border-line">
          <tbody>
            {/* In the order in which the person walks along the machine. */}
            {places.map((p) => (
              <tr key={p.place} className="border-b border-line">
                <td className="w-8 py-1.5">
                  <span className="inline-block size-3.5 border border-ink" aria-label="tick" />
                </td>
                <td className="figure w-40">
                  Place {placeOf(p.place, p.machine_place)}
                  {placeOf(p.place, p.machine_place) === p.place ? "" : `, in the plan ${p.place}`}
                </td>
                <td className="font-medium">{p.spool?.name ?? "any filament"}</td>
                <td className="text-soft">{p.spool?.material}</td>
                <td className="figure text-right text-soft">{p.spool ? `${fixed(p.spool.left_g, 0)} g left` : ""}</td>
                <td className="w-32 text-right">{!mixes && p.place === first ? "load this first" : ""}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {cautions.length > 0 && (
          <ul className="mt-4 list-disc pl-5">
            {cautions.map((c) => (
              <li key={c.code + c.message}>
                {c.message}.{c.edit ? "" : ` ${c.mend}`}
              </li>
            ))}
          </ul>
        )}
        <h2 className="mt-6 font-semibold">Swaps</h2>
        {reloads.length > 0 && (
          <p className="mt-1">
            {reloads.length} {reloads.length === 1 ? "spool is" : "spools are"} put in by hand on the way, where it says so.
          </p>
        )}
        {swaps.length === 0 ? (
          <p className="mt-1">None.</p>
        ) : (
          <table className="mt-1 w-full border-t border-line">
            <thead>
              <tr className="heading border-b border-line text-left">
                <th className="py-1 font-semibold">No</th>
                <th className="font-semibold">Layer</th>
                <th className="font-semibold">Height</th>
                <th className="font-semibold">Out</th>
                <th className="font-semibold">In</th>
                <th className="text-right font-semibold">Purge</th>
              </tr>
            </thead>
            <tbody>
              {swaps.map((s, i) => (
                <tr key={i} className="break-inside-avoid border-b border-line">
                  <td className="figure py-[3px] text-soft">{i + 1}</td>
                  <td className="figure">{s.layer + 1}</td>
                  <td className="figure">{mm(s.z_mm)}</td>
                  <td>
                    {s.from} · {nameOf(s.from)}
                  </td>
                  <td className="font-medium">
                    {s.to} · {nameOf(s.to)}
                    {reloads
                      .filter((r) => s.is_reload && r.layer === s.layer && r.slot === s.to)
                      .map((r) => (
                        <b key={r.slot} className="block">
                          by hand: {nameOf(r.out)} out of place {r.place}, {nameOf(r.slot)} in
                        </b>
                      ))}
                  </td>
                  <td className="figure text-right">
                    {fixed(s.purge_mm3, 0)} mm³ = {fixed(s.purge_mm, 0)} mm
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </div>
  );
}
