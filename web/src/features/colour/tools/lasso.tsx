import { useBench } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { Tick } from "../../../ui/Tick";
import type { ToolCard } from "./card";

function Options() {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  return (
    <>
      <Tick
        isOn={s.lassoStraight}
        title="Click corners; Enter or a double click closes it"
        onChange={(lassoStraight) => set({ lassoStraight })}
      >
        Straight edges
      </Tick>
      <Tick isOn={s.lassoThrough} title="Also what is hidden behind" onChange={(lassoThrough) => set({ lassoThrough })}>
        Right through
      </Tick>
    </>
  );
}

/** What lies inside an outline on the screen. */
export const lasso: ToolCard = {
  tool: "lasso",
  name: "Lasso",
  key: "L",
  icon: <path d="M5 6c3-4 11-3 12 1s-4 3-6 5-6 4-8 1 0-5 2-7z" />,
  Options,
  how: (to, s) =>
    s.lassoStraight ? (
      <>Click corners around what goes to {to}; Enter or a double click closes, Escape lets go.</>
    ) : (
      <>Draw around what goes to {to}. Escape lets go.</>
    ),
};
