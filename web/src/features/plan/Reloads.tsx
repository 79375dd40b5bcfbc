import type { JobView } from "../../api/generated/JobView";
import type { Plan } from "../../api/generated/Plan";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { Dot } from "../../ui/Dot";
import { NumberField } from "../../ui/NumberField";
import { slotColour, slotName } from "../score/names";

/** How many spools the machine holds, and who is put in by hand on the way. */
export function Reloads({ job, plan }: { job: JobView; plan: Plan }) {
  const { edit } = useChanges(job.id);
  const setLayer = useBench((s) => s.setLayer);
  if (!job.machine.holds_fewer) return null;
  const holds = job.machine.places;
  const set = (printer: Partial<JobView["printer"]>) => edit({ edit: "set-printer", printer: { ...job.printer, ...printer } });
  return (
    <section aria-label="Reloads" className="mt-4">
      <h2 className="heading pb-1">More colours than places</h2>
      <div className="flex items-center gap-2 border-t border-line pt-2 text-[12.5px]">
        The machine holds{" "}
        <NumberField
          label="Spools held at a time"
          value={holds}
          unit=""
          digits={0}
          width={40}
          onCommit={(n) => set({ holds: Math.round(n), slots: Math.max(job.printer.slots, Math.round(n)) })}
        />
        at a time, the job has{" "}
        <NumberField
          label="Slots of the job"
          value={job.printer.slots}
          unit=""
          digits={0}
          width={40}
          onCommit={(n) => set({ slots: Math.round(n), holds })}
        />{" "}
        slots.
      </div>
      {plan.start.length > 0 && (
        <>
          <p className="pt-2 text-[12.5px]">
            Begin with{" "}
            {plan.start.map((slot, i) => (
              <span key={slot}>
                {i > 0 && ", "}
                <Dot colour={slotColour(job, slot)} /> {slotName(job, slot)} in place {i + 1}
              </span>
            ))}
            .
          </p>
          <p className="pt-1 text-[12.5px]">
            <b>
              {plan.reloads.length} {plan.reloads.length === 1 ? "reload" : "reloads"}
            </b>{" "}
            by hand{plan.is_fewest_reloads ? ": no plan has fewer." : `: the fewest found. No plan has fewer than ${plan.least_reloads}.`}
          </p>
          <ul className="mt-1 border-t border-line">
            {plan.reloads.slice(0, 200).map((r, i) => (
              <li key={i} className="border-b border-line">
                <button
                  type="button"
                  className="flex w-full items-center gap-2 py-1 text-left hover:bg-sheet"
                  onClick={() => setLayer(r.layer)}
                >
                  <span className="figure w-14 text-soft">L{r.layer + 1}</span>
                  place {r.place}: <Dot colour={slotColour(job, r.out)} /> {slotName(job, r.out)} out,{" "}
                  <Dot colour={slotColour(job, r.slot)} /> {slotName(job, r.slot)} in
                </button>
              </li>
            ))}
          </ul>
          {plan.reloads.length > 200 && (
            <p className="py-1 text-soft">and {plan.reloads.length - 200} more; all of them are in the run sheet.</p>
          )}
        </>
      )}
    </section>
  );
}
