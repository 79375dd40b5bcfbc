import { DropdownMenu } from "radix-ui";
import { MoreHorizontal } from "lucide-react";
import { limits } from "../../api/generated/limits";
import type { JobView } from "../../api/generated/JobView";
import type { RegionView } from "../../api/generated/RegionView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { Menu, MenuItem } from "../../ui/Menu";
import { NumberField } from "../../ui/NumberField";
import { useOf } from "../../state/useOf";

const line = <DropdownMenu.Separator className="my-1 border-t border-line" />;

/** What can be done to a region as a whole. */
export function RegionMenu({ job, region: r }: { job: JobView; region: RegionView }) {
  const { edit } = useChanges(job.id);
  const { settings, set, alone, setAlone } = useOf(useBench, "settings", "set", "alone", "setAlone");
  const by = settings.stepMm;
  const isAlone = alone !== null && "region" in alone && alone.region === r.key;
  const region = r.key;
  return (
    <Menu
      trigger={
        <button type="button" aria-label={`More for ${r.name}`} className="rounded-[3px] px-1 text-soft hover:bg-paper hover:text-ink">
          <MoreHorizontal size={15} aria-hidden />
        </button>
      }
    >
      <div className="flex items-center justify-between gap-3 px-3 py-1 text-[12px] text-soft">
        Edge moves by
        <NumberField
          label="Edge moves by"
          value={by}
          unit="mm"
          digits={2}
          width={80}
          onCommit={(stepMm) => set({ stepMm: Math.min(limits.edgeStep.high, Math.max(limits.edgeStep.low, stepMm)) })}
        />
      </div>
      <MenuItem onSelect={() => edit({ edit: "grow-region", region, by_mm: by })}>Grow</MenuItem>
      <MenuItem onSelect={() => edit({ edit: "grow-region", region, by_mm: -by })}>Shrink</MenuItem>
      <MenuItem onSelect={() => edit({ edit: "smooth-region", region, by_mm: by })}>Smooth the edge</MenuItem>
      {line}
      <MenuItem onSelect={() => edit({ edit: "invert-region", region })}>Invert</MenuItem>
      <MenuItem onSelect={() => edit({ edit: "give-rest", region })}>Give it all the rest</MenuItem>
      {line}
      <MenuItem isOn={r.is_protected} onSelect={() => edit({ edit: "protect-region", region, is_protected: !r.is_protected })}>
        Protect from tools
      </MenuItem>
      <MenuItem isOn={isAlone} onSelect={() => setAlone(isAlone ? null : { region })}>
        Show alone
      </MenuItem>
      {line}
      {region !== "base" && <MenuItem onSelect={() => edit({ edit: "delete-region", region })}>Delete {r.name}</MenuItem>}
      <MenuItem onSelect={() => edit({ edit: "clear-colours" })}>Clear all colours</MenuItem>
    </Menu>
  );
}
