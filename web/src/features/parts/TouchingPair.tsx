import { limits } from "../../api/generated/limits";
import { useState } from "react";
import type { PairView } from "../../api/generated/PairView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { Button } from "../../ui/Button";
import { fixed } from "../../ui/format";
import { LengthField } from "../../ui/LengthField";
import { Tick } from "../../ui/Tick";
import { useOf } from "../../state/useOf";
import type { Listed } from "./partTree";

/** Two parts that touch: shown on the bench, and held to one another by teeth if the maker likes. */
export function TouchingPair({
  job,
  pair,
  sides,
  isChosen,
  onShow,
}: {
  job: number;
  pair: PairView;
  sides: [Listed, Listed];
  isChosen: boolean;
  onShow: () => void;
}) {
  const { edit, isBusy } = useChanges(job);
  const { settings, set } = useOf(useBench, "settings", "set");
  const [isOpen, setOpen] = useState(false);
  const [a, b] = sides;
  // The larger one can spare the room.
  const [from, into] = a.part.volume_mm3 < b.part.volume_mm3 ? [a, b] : [b, a];
  return (
    <li className={`border-b border-line px-3.5 py-1.5 ${isChosen ? "bg-plum-tint" : "hover:bg-sheet"}`}>
      <button
        type="button"
        className="flex w-full items-baseline gap-2 text-left"
        title="Show it on the bench"
        aria-pressed={isChosen}
        onClick={onShow}
      >
        <span className="min-w-0 flex-1">
          <span className="font-semibold">{from.part.name}</span> on {into.part.name}
        </span>
        <span className="figure shrink-0 text-[12px] text-soft">
          {pair.meeting.is === "touch" && `${fixed(pair.meeting.area_mm2, 0)} mm²`}
        </span>
      </button>
      {isOpen ? (
        <form
          className="flex flex-wrap items-center gap-x-2.5 gap-y-1 pt-1 text-[12px]"
          aria-label={`Interlock ${from.part.name} with ${into.part.name}`}
          onSubmit={(e) => {
            e.preventDefault();
            edit({ edit: "part", do: "interlock", at: from.at, into: into.at, size_mm: settings.teethMm, dovetail: settings.isDovetail });
            setOpen(false);
          }}
          onKeyDown={(e) => e.key === "Escape" && setOpen(false)}
        >
          <LengthField
            label="Size of teeth"
            value={settings.teethMm}
            width={70}
            isLow
            range={limits.teeth}
            onCommit={(teethMm) => set({ teethMm })}
          />
          <Tick
            isOn={settings.isDovetail}
            onChange={(isDovetail) => set({ isDovetail })}
            title="Wider at the end than at the foot: they cannot be pulled out"
          >
            Dovetails
          </Tick>
          <Button kind="link" className="text-[12px]" type="submit" disabled={isBusy}>
            Make teeth
          </Button>
          <span className="basis-full text-soft">
            {from.part.name} grows into {into.part.name}, inside only.
          </span>
        </form>
      ) : (
        <Button kind="link" className="text-[12px]" title="Holds them by teeth, inside only" onClick={() => setOpen(true)}>
          Interlock
        </Button>
      )}
    </li>
  );
}
