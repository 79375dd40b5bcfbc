import { useBench } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { NumberField } from "../../../ui/NumberField";
import { Select } from "../../../ui/Select";
import { Tick } from "../../../ui/Tick";
import type { OptionsProps, ToolCard } from "./card";
import { CreaseRow } from "./CreaseRow";

function Options({ patchCount }: OptionsProps) {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  return (
    <>
      <CreaseRow patchCount={patchCount} />
      <div className="flex items-center justify-between gap-2">
        <Select
          label="Kept inside"
          value={s.within}
          className="h-6 flex-1 py-0!"
          options={[
            { value: "part", label: "In one part" },
            { value: "region", label: "In one region" },
            { value: "everywhere", label: "Over touching parts" },
          ]}
          onChange={(within) => set({ within: within as typeof s.within })}
        />
        <Tick
          isOn={s.turnDeg !== null}
          title="How far the surface may have turned from where you click"
          onChange={(isOn) => set({ turnDeg: isOn ? 45 : null })}
        >
          Turn
        </Tick>
        {s.turnDeg !== null && (
          <NumberField label="Furthest turn" value={s.turnDeg} unit="°" digits={0} width={46} onCommit={(turnDeg) => set({ turnDeg })} />
        )}
      </div>
    </>
  );
}

/** A stretch of surface up to where it turns. */
export const patch: ToolCard = {
  tool: "patch",
  name: "Patch",
  key: "P",
  icon: <path d="M4 14 7 3l9 3 1 7-7 4z" />,
  click: (s, region, at) => ({
    edit: "give-patch",
    region,
    at,
    crease_deg: s.creaseDeg,
    within: s.within,
    ...(s.turnDeg === null ? {} : { turn_deg: s.turnDeg }),
  }),
  Options,
  how: (to, s) => (
    <>
      Click a patch to give it to {to}. Patches stop where the surface turns more than {s.creaseDeg}°.
    </>
  ),
};
