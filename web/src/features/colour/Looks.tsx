import { DropdownMenu } from "radix-ui";
import { useDesk, useDeskChanges } from "../../api/queries";
import { goToView, lookFrom, savePicture, viewNow, type Side } from "../../scene/stage";
import { useBench, type Look } from "../../state/bench";
import { Menu, MenuItem } from "../../ui/Menu";
import { useOf } from "../../state/useOf";

const looks: [Look, string, string][] = [
  ["spools", "Spools", "Show the colours of the loaded spools instead of the wanted ones"],
  ["patterns", "Patterns", "Tell regions apart without colour"],
  ["grey", "Grey", "Show how light and dark the colours are"],
  ["edges", "Edges", "Show the edges of facets"],
  ["xray", "X-ray", "See through the model"],
  ["apart", "Apart", "Pull the parts apart"],
  ["hangs", "Hangs", "Mark what leans out too far to be printed over nothing"],
  ["cut", "Cut", "Cut the model at the layer of the score"],
];

const sides: Side[] = ["front", "back", "left", "right", "top", "bottom"];

/** How the bench is looked at. */
export function Looks({ id, name }: { id: number; name: string }) {
  const bench = useOf(useBench, "alone", "fit", "hidden", "looks", "setAlone", "setHidden", "toggle");
  const desk = useDesk(id);
  const { setDesk } = useDeskChanges(id);
  const kept = desk.data?.view;
  const face = "rounded-[4px] border px-2 py-[3px] text-left text-[12px] font-medium";
  return (
    <div className="absolute right-3 top-3 flex w-[74px] flex-col gap-1">
      {looks.map(([look, name, why]) => (
        <button
          key={look}
          type="button"
          aria-pressed={bench.looks[look]}
          title={why}
          onClick={() => bench.toggle(look)}
          className={`${face} ${bench.looks[look] ? "border-plum bg-plum text-white" : "border-line bg-sheet hover:border-faint"}`}
        >
          {name}
        </button>
      ))}
      {bench.hidden.length > 0 && (
        <button
          type="button"
          title="Show the hidden parts again"
          onClick={() => bench.setHidden([])}
          className={`${face} border-plum bg-plum text-white`}
        >
          Unhide
        </button>
      )}
      {bench.alone && (
        <button
          type="button"
          title="Show everything again"
          onClick={() => bench.setAlone(null)}
          className={`${face} border-plum bg-plum text-white`}
        >
          Show all
        </button>
      )}
      <Menu
        trigger={
          <button type="button" aria-label="View" className={`${face} border-line bg-sheet hover:border-faint`}>
            View…
          </button>
        }
      >
        <MenuItem onSelect={bench.fit} hint="F">
          See everything
        </MenuItem>
        {sides.map((side) => (
          <MenuItem key={side} onSelect={() => lookFrom(side)}>
            From {side === "top" ? "above" : side === "bottom" ? "below" : `the ${side}`}
          </MenuItem>
        ))}
        <DropdownMenu.Separator className="my-1 border-t border-line" />
        <MenuItem
          onSelect={() => {
            const view = viewNow();
            if (view) setDesk({ ticked: [], picture: null, ...desk.data, view });
          }}
        >
          Keep this view
        </MenuItem>
        <MenuItem isOff={!kept} onSelect={() => kept && goToView(kept)}>
          Go to the kept view
        </MenuItem>
        <DropdownMenu.Separator className="my-1 border-t border-line" />
        <MenuItem onSelect={() => void savePicture(name)}>Save a picture</MenuItem>
      </Menu>
    </div>
  );
}
