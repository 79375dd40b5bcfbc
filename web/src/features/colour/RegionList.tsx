import { Lock } from "lucide-react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import type { RegionView } from "../../api/generated/RegionView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { grams, percent } from "../../ui/format";
import { NameField } from "../../ui/NameField";
import { SoakField } from "./SoakField";
import { Select } from "../../ui/Select";
import { ColourField } from "../../ui/ColourField";
import { freshColour, freshKey } from "./fresh";
import { EdgeStep } from "./EdgeStep";
import { RegionMenu } from "./RegionMenu";
import { Explained } from "../words/Explained";

/** The colour regions: choose, name, recolour, give a slot, set how deep the colour goes. */
export function RegionList({ job, plan }: { job: JobView; plan: PlanView | undefined }) {
  const { edit } = useChanges(job.id);
  const setRegion = useBench((s) => s.setRegion);
  const add = () => {
    const region = freshKey(job);
    const name = `Region ${job.regions.length + 1}`;
    edit({ edit: "add-region", region, name, colour: freshColour(job) }, { onSuccess: () => setRegion(region) });
  };
  return (
    <section aria-label="Colour regions">
      <div className="flex items-baseline justify-between px-3.5 pb-1 pt-3">
        <h2 className="heading">
          <Explained word="region">Colour regions</Explained>
        </h2>
        <button type="button" className="text-xs font-semibold text-plum hover:underline" onClick={add}>
          Add
        </button>
      </div>
      <ul>
        {job.regions.map((r) => (
          <RegionRow key={r.key} job={job} region={r} plan={plan} />
        ))}
      </ul>
    </section>
  );
}

function RegionRow({ job, region: r, plan }: { job: JobView; region: RegionView; plan: PlanView | undefined }) {
  const { edit } = useChanges(job.id);
  const isChosen = useBench((s) => s.region === r.key);
  const setRegion = useBench((s) => s.setRegion);
  const total = plan?.state === "ready" ? plan.plan.regions.find((t) => t.region === r.key) : undefined;
  const slots = [{ value: "0", label: "–" }, ...job.slots.map((s) => ({ value: String(s.slot), label: String(s.slot) }))];
  return (
    <li
      aria-current={isChosen ? "true" : undefined}
      className={`relative flex gap-2.5 py-2 pl-3.5 pr-3 ${isChosen ? "bg-plum-tint shadow-[inset_3px_0_0_var(--color-plum)]" : "hover:bg-sheet"}`}
      onClick={() => setRegion(r.key)}
    >
      <input
        type="color"
        aria-label={`Colour of ${r.name}`}
        key={r.colour}
        defaultValue={r.colour}
        onBlur={(e) => e.target.value !== r.colour && edit({ edit: "recolour-region", region: r.key, colour: e.target.value })}
        className="mt-0.5 size-[26px] shrink-0 cursor-pointer rounded-[4px] border border-black/25 bg-transparent p-0 [&::-webkit-color-swatch-wrapper]:p-0 [&::-webkit-color-swatch]:rounded-[3px] [&::-webkit-color-swatch]:border-0"
      />
      <div className="min-w-0 flex-1">
        <span className="flex items-center gap-1">
          {r.is_protected && <Lock size={12} className="shrink-0 text-soft" aria-label="Protected" />}
          <NameField
            label={`Name of ${r.name}`}
            value={r.name}
            onCommit={(name) => edit({ edit: "rename-region", region: r.key, name })}
            className="font-medium"
          />
        </span>
        <div className="my-1 h-[3px] bg-line" aria-hidden>
          <div className="h-full bg-soft" style={{ width: `${100 * r.surface_share}%` }} />
        </div>
        <div className="figure flex justify-between text-[12px] text-soft">
          <span title="Share of the surface">{percent(r.surface_share, 1)}</span>
          {!job.machine.jets && <span title="Plastic printed for it">{total ? grams(total.grams) : "…"}</span>}
        </div>
        {isChosen && (
          <div className="-mr-14 mt-1.5 flex flex-col gap-1 text-[12px] text-soft">
            <label className="flex items-center justify-between whitespace-nowrap" title="As hex or as three numbers from 0 to 255">
              Colour
              <ColourField
                label={`Colour of ${r.name} in figures`}
                value={r.colour}
                onCommit={(colour) => edit({ edit: "recolour-region", region: r.key, colour })}
              />
            </label>
            <SoakField region={r} layerMm={job.printer.layer_mm} onEdit={edit} />
            <EdgeStep />
          </div>
        )}
      </div>
      <span onClick={(e) => e.stopPropagation()} className="flex shrink-0 flex-col items-end gap-1 self-start">
        {job.machine.jets ? (
          <span className="w-11" />
        ) : (
          <Select
            label={`Slot of ${r.name}`}
            value={String(r.slot ?? 0)}
            options={slots}
            className="figure h-6 w-11 px-1.5! py-0! font-semibold"
            onChange={(v) => edit({ edit: "assign-slot", region: r.key, slot: v === "0" ? null : Number(v) })}
          />
        )}
        <RegionMenu job={job} region={r} />
      </span>
    </li>
  );
}
