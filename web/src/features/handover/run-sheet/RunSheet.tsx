import { useMoves } from "../../../api/moves";
import { useJob, usePlan } from "../../../api/queries";
import { useRelease } from "../../../api/release";
import { go } from "../../../state/route";
import { Button } from "../../../ui/Button";
import { duration, fixed, grams } from "../../../ui/format";
import { Trouble, Waiting } from "../../../ui/states";
import { PhoneCode } from "./PhoneCode";
import { Shares } from "./Shares";
import { Strand } from "./Strand";
import { HandSwaps, Passes, SwapRuns } from "./Swaps";

/** The plan on paper or on a phone, for the person at the machine; what stands on it follows from the kind of machine. */
export function RunSheet({ id }: { id: number }) {
  const job = useJob(id);
  const plan = usePlan(id);
  const release = useRelease(id, job.data?.revision ?? 0, `${plan.data?.state}`).data;
  const revision = plan.data?.state === "ready" ? plan.data.revision : undefined;
  const moves = useMoves(id, revision, true).data;
  if (job.error) return <Trouble error={job.error} retry={() => void job.refetch()} />;
  if (!job.data || plan.data?.state !== "ready") return <Waiting what="Writing the run sheet" />;
  const whole = plan.data.plan;
  const { layers, swaps, bill, start, cautions } = whole;
  const { machine } = job.data;
  const nameOf = (slot: number) => job.data.slots[slot - 1]?.spool?.name ?? `${machine.slot_word.toLowerCase()} ${slot}`;
  const first = layers.find((l) => l.order.length > 0)?.order[0];
  // With fewer places than colours only the first spools are put in before the start.
  const used = new Set(start.length > 0 ? start : layers.flatMap((l) => l.order));
  /** Place of the machine that holds a slot's spool at the start. */
  const placeOf = (slot: number, place: number) => (start.length > 0 ? start.indexOf(slot) + 1 : place);
  const mixes = machine.mixes !== null;
  const places = job.data.places.filter((p) => mixes || used.has(p.place)).sort((a, b) => a.machine_place - b.machine_place);
  const said = release?.look?.said;
  const releasedBy = release?.state === "released" && said?.do === "release" ? said.by : null;
  const files = moves?.revision === revision ? (moves?.files ?? []) : [];
  return (
    <div className="h-full overflow-y-auto print:h-auto print:overflow-visible">
      <div className="screen-only flex h-11 items-center justify-between border-b border-line px-3.5">
        <Button onClick={() => go(`/jobs/${id}/handover`)}>Back to Handover</Button>
        <Button kind="main" onClick={() => window.print()}>
          Print
        </Button>
      </div>
      <main className="mx-auto my-6 max-w-[760px] bg-sheet px-12 py-10 max-sm:m-0 max-sm:px-4 max-sm:py-5 print:m-0 print:p-0">
        <div className="flex items-baseline justify-between gap-4">
          <h1 className="text-xl">{job.data.name}</h1>
          <span className="flex items-center gap-4">
            <span className="figure text-soft">revision {job.data.revision}</span>
            <PhoneCode />
          </span>
        </div>
        <p className="text-soft">
          Run sheet · {job.data.printer.name} · {releasedBy ? <b className="text-fine">released by {releasedBy}</b> : "not released"}
        </p>
        <dl className="mt-5 grid grid-cols-5 gap-4 border-y border-line py-3 max-sm:grid-cols-3">
          {[
            ["Time", duration(moves?.figures.find((f) => f.of === "time")?.moves ?? bill.time_s)],
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
                  <span className="inline-block size-3.5 border border-ink" aria-hidden />
                </td>
                <td className="figure w-40">
                  {machine.is_by_hand ? (
                    <>Spool {p.place}</>
                  ) : (
                    <>
                      Place {placeOf(p.place, p.machine_place)}
                      {placeOf(p.place, p.machine_place) === p.place ? "" : `, in the plan ${p.place}`}
                    </>
                  )}
                </td>
                <td className="font-medium">{p.spool?.name ?? "any filament"}</td>
                <td className="text-soft">{p.spool?.material}</td>
                <td className="figure text-right text-soft">{p.spool ? `${fixed(p.spool.left_g, 0)} g left` : ""}</td>
                <td className="w-32 text-right">{!mixes && p.place === first ? "load this first" : ""}</td>
              </tr>
            ))}
            {release?.care.map((c) => (
              <tr key={c.code} className="border-b border-line">
                <td className="w-8 py-1.5">
                  <span
                    className={`inline-block size-3.5 border border-ink ${c.done ? "bg-ink" : ""}`}
                    role="img"
                    aria-label={c.done ? "done" : "to be done"}
                  />
                </td>
                <td colSpan={5}>{c.words}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {mixes && (
          <Shares
            job={job.data}
            used={[...new Set(layers.flatMap((l) => l.order))].sort((a, b) => a - b)}
            nameOfFeed={(feed) => job.data.places.find((p) => p.place === feed)?.spool?.name ?? `feed ${feed}`}
          />
        )}
        {cautions.length > 0 && (
          <ul className="mt-4 list-disc pl-5">
            {cautions.map((c) => (
              <li key={c.code + c.message}>
                {c.message}.{c.edit ? "" : ` ${c.mend}`}
              </li>
            ))}
          </ul>
        )}
        <h2 className="mt-6 font-semibold">{whole.is_by_passes ? "Passes" : "Swaps"}</h2>
        {swaps.length === 0 ? (
          <p className="mt-1">None.</p>
        ) : whole.is_by_passes ? (
          <Passes plan={whole} files={files} nameOf={nameOf} />
        ) : machine.is_by_hand ? (
          <HandSwaps plan={whole} nameOf={nameOf} />
        ) : (
          <SwapRuns plan={whole} nameOf={nameOf} />
        )}
        {machine.splices && <Strand strand={moves?.revision === revision ? (moves?.strand ?? []) : []} nameOf={nameOf} />}
      </main>
    </div>
  );
}
