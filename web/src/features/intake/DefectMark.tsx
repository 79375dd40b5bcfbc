import { useMemo } from "react";
import type { DefectPlace } from "../../api/generated/DefectPlace";
import { Border } from "../../scene/Border";

/** The edges of a defect in red, seen through everything. */
export function DefectMark({ place, lift }: { place: DefectPlace; lift: number }) {
  const ends = useMemo(() => new Float32Array(place.edges.flat(2)), [place]);
  return ends.length > 0 ? <Border ends={ends} lift={lift} colour={0xa5252b} width={3.5} isOnTop /> : null;
}
