import { MoreHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { JobView } from "../../api/generated/JobView";
import type { PartEdit } from "../../api/generated/PartEdit";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { freshId } from "../../ui/freshId";
import { Menu, MenuItem } from "../../ui/Menu";
import { partsByKey, type Listed } from "./partTree";
import { useOf } from "../../state/useOf";

const line = <DropdownMenu.Separator className="my-1 border-t border-line" />;

/** What can be done to a part, or to all that are chosen. */
export function PartMenu({ job, listed, onMove }: { job: JobView; listed: Listed; onMove: (by: -1 | 1) => void }) {
  const { edit } = useChanges(job.id);
  const { region, chosen, settings, alone, setAlone, setChosen } = useOf(
    useBench,
    "region",
    "chosen",
    "settings",
    "alone",
    "setAlone",
    "setChosen",
  );
  const { part, at, model, number } = listed;
  const change = (is: PartEdit) => edit({ edit: "part", ...is });
  const known = partsByKey(job);
  const several = chosen.length > 1 && chosen.includes(part.key) ? chosen.flatMap((k) => known.get(k)?.at ?? []) : [];
  const target = job.regions.find((r) => r.key === region);
  const isAlone = alone !== null && "part" in alone && alone.model === model && alone.part === number;
  const small = [...known.values()].filter((l) => Math.abs(l.part.volume_mm3) < settings.fragmentMm3).length;
  return (
    <Menu
      trigger={
        <button
          type="button"
          aria-label={`More for part ${part.name}`}
          className="rounded-[3px] px-0.5 text-soft hover:bg-paper hover:text-ink"
        >
          <MoreHorizontal size={15} aria-hidden />
        </button>
      }
    >
      <MenuItem onSelect={() => edit({ edit: "give-part", region, at })}>Give to {target?.name ?? "the region"}</MenuItem>
      <MenuItem isOn={isAlone} onSelect={() => setAlone(isAlone ? null : { model, part: number })}>
        Show alone
      </MenuItem>
      {line}
      <MenuItem hint="Alt ↑" onSelect={() => onMove(-1)}>
        Move up
      </MenuItem>
      <MenuItem hint="Alt ↓" onSelect={() => onMove(1)}>
        Move down
      </MenuItem>
      {several.length > 1 && (
        <>
          <MenuItem
            onSelect={() => {
              change({
                do: "group",
                at: several,
                group: freshId("group", (key) => job.groups.some((g) => g.key === key)),
                name: `Group ${job.groups.length + 1}`,
              });
              setChosen([]);
            }}
          >
            Group the {several.length} chosen
          </MenuItem>
          <MenuItem
            onSelect={() => {
              change({ do: "join", at: several });
              setChosen([]);
            }}
          >
            Join the {several.length} chosen
          </MenuItem>
        </>
      )}
      {line}
      <MenuItem isOn={part.is_locked} onSelect={() => change({ do: "lock", at, is_locked: !part.is_locked })}>
        Locked
      </MenuItem>
      <MenuItem isOn={!part.is_printed} onSelect={() => change({ do: "print", at, is_printed: !part.is_printed })}>
        Leave out of the print
      </MenuItem>
      {job.slots.map((s) => {
        const isOut = part.skipped_passes.includes(s.slot);
        const slots = isOut ? part.skipped_passes.filter((k) => k !== s.slot) : [...part.skipped_passes, s.slot];
        return (
          <MenuItem key={s.slot} isOn={isOut} onSelect={() => change({ do: "skip-passes", at, slots })}>
            Leave out of the pass of slot {s.slot}
          </MenuItem>
        );
      })}
      {line}
      {small > 0 && small < known.size && (
        <>
          <MenuItem onSelect={() => change({ do: "tidy", smaller_mm3: settings.fragmentMm3, fragments: "join" })}>
            Join {small} under {settings.fragmentMm3} mm³
          </MenuItem>
          <MenuItem onSelect={() => change({ do: "tidy", smaller_mm3: settings.fragmentMm3, fragments: "drop" })}>
            Drop {small} under {settings.fragmentMm3} mm³
          </MenuItem>
        </>
      )}
      <MenuItem onSelect={() => change({ do: "drop", at })}>Drop {part.name}</MenuItem>
    </Menu>
  );
}
