import { limits } from "../../api/generated/limits";
import type { JobView } from "../../api/generated/JobView";
import type { StrayKind } from "../../api/generated/StrayKind";
import { strayWidth, useChanges, useStrays } from "../../api/queries";
import { useBench } from "../../state/bench";
import { Button } from "../../ui/Button";
import { fixed } from "../../ui/format";
import { LeaveOnPurpose, LeftOnPurpose } from "../../ui/LeaveOnPurpose";
import { NumberField } from "../../ui/NumberField";
import { useOf } from "../../state/useOf";
import { Explained } from "../words/Explained";

const kinds: Record<StrayKind, string> = { uncoloured: "Missed spot", hole: "Hole", island: "Island", sliver: "Sliver" };

/** Surface that was probably missed, each with the way to give it to its neighbour. */
export function StrayList({ job }: { job: JobView }) {
  const { settings, set, stray: chosen, setStray } = useOf(useBench, "settings", "set", "stray", "setStray");
  const { edit, isBusy } = useChanges(job.id);
  const strays = useStrays(job.id, job.revision, settings.strayMm2, true);
  const name = (number: number) => job.regions.find((r) => r.number === number)?.name ?? "another region";
  const list = strays.data ?? [];
  const meant = list.filter(({ stray }) => stray.accepted === null);
  return (
    <div aria-label="Strays">
      <div className="flex items-center justify-between px-3.5 py-2 text-[12px] text-soft">
        <Explained word="stray">Spots under</Explained>
        <NumberField
          label="Largest stray"
          value={settings.strayMm2}
          unit="mm²"
          digits={1}
          width={82}
          range={limits.strayArea}
          onCommit={(strayMm2) => set({ strayMm2 })}
        />
      </div>
      {list.length === 0 ? (
        <p className="px-3.5 pb-3 text-soft" role="status">
          {strays.data ? "Nothing missed: no spots that small, no strips narrower than a line." : "Looking"}
        </p>
      ) : meant.length === 0 ? (
        <p className="px-3.5 pb-3 text-soft" role="status">
          Nothing else was missed: what is left is left on purpose.
        </p>
      ) : (
        <div className="border-b border-line px-3.5 pb-2">
          <Button disabled={isBusy} onClick={() => edit({ edit: "give-strays", smaller_mm2: settings.strayMm2, narrower_mm: strayWidth })}>
            {meant.length === 1 ? "Give it to its neighbour" : `Give all ${meant.length} to their neighbours`}
          </Button>
        </div>
      )}
      <ul>
        {list.map(({ model, stray }, i) => (
          <li
            key={`${model} ${stray.point.join()}`}
            className={`border-b border-line px-3.5 py-1.5 ${chosen === i ? "bg-plum-tint" : "hover:bg-sheet"} ${stray.accepted === null ? "" : "opacity-70"}`}
          >
            <button
              type="button"
              className="w-full text-left"
              title="Show it on the bench"
              aria-pressed={chosen === i}
              onClick={() => setStray(chosen === i ? null : i)}
            >
              <span className="font-semibold">{kinds[stray.kind]}</span> of {name(stray.region)}
              <span className="figure float-right text-[12px] text-soft">{fixed(stray.area_mm2, 2)} mm²</span>
            </button>
            {stray.accepted !== null && <LeftOnPurpose accepted={stray.accepted} />}
            <p className="flex flex-wrap gap-x-4">
              <Button
                kind="link"
                className="text-[12px]"
                disabled={isBusy}
                onClick={() => edit({ edit: "give-stray", at: { model, point: stray.point, normal: stray.normal } })}
              >
                Give to {name(stray.neighbour)}
              </Button>
              <LeaveOnPurpose
                accepted={stray.accepted}
                isOff={isBusy}
                onLeave={(note) => edit({ edit: "plan", do: "accept", snag: stray.what, note })}
              />
            </p>
          </li>
        ))}
      </ul>
    </div>
  );
}
