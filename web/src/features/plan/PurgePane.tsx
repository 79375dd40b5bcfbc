import type { JobView } from "../../api/generated/JobView";
import type { Plan } from "../../api/generated/Plan";
import type { PurgePlaces } from "../../api/generated/PurgePlaces";
import { limits } from "../../api/generated/limits";
import { useChanges } from "../../api/queries";
import { fixed, grams, volume } from "../../ui/format";
import { NumberField } from "../../ui/NumberField";
import { Tick } from "../../ui/Tick";
import { BedMap } from "../bed/BedMap";
import { TakersList } from "./Takers";
import { Explained } from "../words/Explained";

/** Where purged plastic goes, and what the tower is. */
export function PurgePane({ job, plan }: { job: JobView; plan: Plan }) {
  const { edit } = useChanges(job.id);
  const places = job.rules.places;
  const set = (to: Partial<PurgePlaces>) => edit({ edit: "plan", do: "places", places: { ...places, ...to } });
  const isByHand = places.by_hand_mm !== undefined;
  const sums = { marked: 0, infill: 0, tower: 0, bin: 0, hand: 0 };
  for (const { split } of plan.swaps) {
    sums.marked += split.marked_mm3;
    sums.infill += split.infill_mm3 - split.marked_mm3;
    sums.tower += split.tower_mm3;
    sums.bin += split.bin_mm3;
    sums.hand += split.hand_mm3;
  }
  const rows = [
    ["Printed as what takes purge", sums.marked],
    ["Printed as infill, where nobody sees it", sums.infill],
    ["Into the tower", sums.tower],
    ["Into the bin", sums.bin],
    ["Pressed out by hand", sums.hand],
  ] as const;
  const tower = plan.tower;
  return (
    <section aria-label="Purge">
      <div className="space-y-1.5">
        {plan.is_by_passes ? (
          <p className="text-soft">Each colour prints to its end before the next: what is purged in between is pressed out by hand.</p>
        ) : (
          <>
            {!isByHand && <TakersList job={job} />}
            <Tick isOn={places.into_infill} onChange={(into_infill) => set({ into_infill })}>
              Into infill first, as far as it is hidden
            </Tick>
            <label className={`flex items-center gap-2 ${isByHand ? "opacity-45" : ""}`}>
              of the rest{" "}
              <NumberField
                label="Share into the tower"
                value={places.tower_share}
                factor={100}
                unit="%"
                digits={0}
                width={60}
                isLow
                range={{ low: 0, high: 100 }}
                onCommit={(tower_share) => set({ tower_share })}
              />{" "}
              into the tower, the others into the bin
            </label>
          </>
        )}
        <div className="flex items-center gap-2">
          <Tick
            isOn={isByHand}
            onChange={(on) =>
              edit({
                edit: "plan",
                do: "places",
                places: on ? { ...places, by_hand_mm: 180 } : { into_infill: places.into_infill, tower_share: places.tower_share },
              })
            }
          >
            {plan.is_by_passes ? "Always as long:" : "By hand instead:"}
          </Tick>
          <NumberField
            label="Pressed out by hand"
            value={places.by_hand_mm ?? 180}
            unit="mm"
            digits={0}
            width={74}
            isLow
            range={limits.byHand}
            onCommit={(by_hand_mm) => set({ by_hand_mm })}
          />{" "}
          at every swap
        </div>
        <Tick isOn={job.rules.is_quick} onChange={(is_quick) => edit({ edit: "plan", do: "quick", is_quick })}>
          Quick plan: no purge at all, for a try-out
        </Tick>
      </div>
      <table className="mt-3 w-full border-t border-line" aria-label="Where it goes">
        <tbody>
          {rows
            .filter(([, mm3]) => mm3 > 0.5)
            .map(([name, mm3]) => (
              <tr key={name} className="border-b border-line">
                <td className="py-1.5">{name}</td>
                <td className="figure text-right">{volume(mm3)}</td>
              </tr>
            ))}
          {tower && (
            <tr className="border-b border-line">
              <td className="py-1.5">Only to keep the tower up</td>
              <td className="figure text-right">{grams(plan.bill.tower_g)}</td>
            </tr>
          )}
          {plan.swaps.length === 0 && (
            <tr className="border-b border-line">
              <td className="py-1.5 text-soft" colSpan={2}>
                Nothing is purged: there is no swap.
              </td>
            </tr>
          )}
          {sums.bin > 0.5 && (
            <tr className="border-b border-line">
              <td className="py-1.5 text-soft" colSpan={2}>
                The bin has to hold about {fixed((sums.bin / 1000) * 4, 0)} cm³ of loose strands: empty it first.
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {tower && (
        <div className="mt-3 flex gap-4">
          <BedMap job={job} tower={tower} />
          <div className="min-w-0 flex-1 text-[12.5px] leading-[1.45]">
            <h2 className="heading">
              The <Explained word="tower">purge tower</Explained>
            </h2>
            <p>A column beside the model that takes what is pressed out at swaps.</p>
            <p className="figure mt-1">
              {fixed(tower.side_mm, 1)} × {fixed(tower.side_mm, 1)} mm, {fixed(tower.height_mm, 1)} mm high
            </p>
            <p className="text-soft">
              {tower.idle_layers} {tower.idle_layers === 1 ? "layer builds" : "layers build"} it without a swap. Height over side{" "}
              <span className="figure">{fixed(tower.slenderness, 1)}</span>
              {tower.is_widened ? ", made wider so that it stands." : ": it stands."}
            </p>
          </div>
        </div>
      )}
    </section>
  );
}
