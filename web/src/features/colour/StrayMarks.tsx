import { useMemo } from "react";
import type { StrayView } from "../../api/generated/StrayView";
import { Border } from "../../scene/Border";

const toEnds = (strays: StrayView[]) => new Float32Array(strays.flatMap((s) => s.stray.outline.flat(2)));

/** Outlines of all strays, the chosen one strong, seen through whatever stands before them. */
export function StrayMarks({ strays, chosen, lift }: { strays: StrayView[]; chosen: number; lift: number }) {
  const all = useMemo(() => toEnds(strays), [strays]);
  const one = useMemo(() => toEnds(strays.slice(chosen, chosen + 1)), [strays, chosen]);
  return (
    <>
      {all.length > 0 && <Border ends={all} lift={lift} colour={0xb26a00} width={1.4} isOnTop />}
      {one.length > 0 && <Border ends={one} lift={lift} colour={0xb3261e} width={3.4} isOnTop />}
    </>
  );
}
