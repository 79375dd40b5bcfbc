import { useBench } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { Tick } from "../../../ui/Tick";
import type { OptionsProps, ToolCard } from "./card";
import { CreaseRow } from "./CreaseRow";

function Options({ patchCount }: OptionsProps) {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  return (
    <>
      <CreaseRow patchCount={patchCount} />
      <Tick
        isOn={s.allAtHeight}
        title="Every relief of the part whose face is as high: a whole word or device"
        onChange={(allAtHeight) => set({ allAtHeight })}
      >
        And all at this height
      </Tick>
      <Tick
        isOn={s.reliefThrough}
        title="A region that is new to the surface goes right through what is raised: its colour ends with the walls, and no layer of it prints two colours"
        onChange={(reliefThrough) => set({ reliefThrough })}
      >
        Right through, if raised
      </Tick>
    </>
  );
}

/** A raised or sunken face with its walls. */
export const relief: ToolCard = {
  tool: "relief",
  name: "Relief",
  key: "R",
  icon: <path d="M2 15h4V6h8v9h4" />,
  click: (s, region, at) => ({ edit: "give-relief", region, at, crease_deg: s.creaseDeg, all: s.allAtHeight, through: s.reliefThrough }),
  Options,
  how: (to) => <>Click a raised or sunken face to give it to {to} with its walls.</>,
};
