import { DropdownMenu } from "radix-ui";
import { MoreHorizontal } from "lucide-react";
import type { JobView } from "../../api/generated/JobView";
import type { RegionView } from "../../api/generated/RegionView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { mm } from "../../ui/format";
import { Menu, MenuItem } from "../../ui/Menu";
import { useOf } from "../../state/useOf";

const line = <DropdownMenu.Separator className="my-1 border-t border-line" />;

/** What can be done to a region as a whole. */
export function RegionMenu({ job, region: r }: { job: JobView; region: RegionView }) {
  const { edit } = useChanges(job.id);
  const { settings, alone, setAlone } = useOf(useBench, "settings", "alone", "setAlone");
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
      <MenuItem onSelect={() => edit({ edit: "grow-region", region, by_mm: by })}>Grow by {mm(by, 2)}</MenuItem>
      <MenuItem onSelect={() => edit({ edit: "grow-region", region, by_mm: -by })}>Shrink by {mm(by, 2)}</MenuItem>
      <MenuItem onSelect={() => edit({ edit: "smooth-region", region, by_mm: by })}>Smooth the edge by {mm(by, 2)}</MenuItem>
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
