import { limits } from "../../../api/generated/limits";
import { useBench } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { count } from "../../../ui/format";
import { SliderRow } from "../../../ui/SliderRow";
import { Explained } from "../../words/Explained";

/** How far the surface may turn within a patch; with how many patches that makes, where that is told. */
export function CreaseRow({ patchCount }: { patchCount: number | undefined | null }) {
  const { settings, set } = useOf(useBench, "settings", "set");
  const patches =
    patchCount === null ? undefined : patchCount === undefined ? "…" : patchCount === 1 ? "one patch" : `${count(patchCount)} patches`;
  return (
    <SliderRow
      label="Crease angle"
      name={<Explained word="crease">Crease angle</Explained>}
      value={settings.creaseDeg}
      min={limits.crease.low}
      max={limits.crease.high}
      unit="°"
      {...(patches === undefined ? {} : { note: patches })}
      onChange={(creaseDeg) => set({ creaseDeg })}
    />
  );
}
