import { useBench } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { Tick } from "../../../ui/Tick";
import type { ToolCard } from "./card";

function Options() {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  return (
    <>
      <Tick isOn={s.flat} title="A flat face counts as one, however many facets it is cut into" onChange={(flat) => set({ flat })}>
        A flat face counts as one
      </Tick>
      <span className="text-soft">Click or drag over facets.</span>
    </>
  );
}

/** Single facets. */
export const facet: ToolCard = {
  tool: "facet",
  name: "Facet",
  key: "T",
  icon: <path d="M10 3.5 17 16H3z" />,
  isDrawn: true,
  click: (s, region, at) => ({ edit: "give-facets", region, at: [at], flat: s.flat }),
  Options,
  how: (to) => <>Click or drag over facets to give them to {to}.</>,
};
