import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { MoveData } from "../../api/moveData";
import { Bench } from "../../scene/Bench";
import { coloursOf, speedsOf, type BeadsBy } from "../../scene/beads/colours";
import { stackOf } from "../../scene/beads/stacked";

/** All layers up to one, stacked on the bench. */
export function StackedDrawing({
  job,
  data,
  topMm,
  by,
  colours,
}: {
  job: JobView;
  data: MoveData;
  topMm: number;
  by: BeadsBy;
  colours: readonly string[];
}) {
  return (
    <Bench low={job.low_mm} size={job.size_mm} fits={0} covered={0.1}>
      <StackedBeads data={data} topMm={topMm} by={by} colours={colours} />
    </Bench>
  );
}

/** The beads themselves, for any bench. */
export function StackedBeads({ data, topMm, by, colours }: { data: MoveData; topMm: number; by: BeadsBy; colours: readonly string[] }) {
  const invalidate = useThree((s) => s.invalidate);
  const stack = useMemo(() => stackOf(data), [data]);
  useEffect(() => () => stack.dispose(), [stack]);
  useEffect(() => {
    const speeds = speedsOf(data);
    stack.paint(coloursOf(data, { length: stack.moves.length, at: (n) => stack.moves[n] ?? 0 }, by, colours, speeds));
    invalidate();
  }, [stack, data, by, colours, invalidate]);
  useEffect(() => {
    // A hair above, since heights are rounded on their way.
    stack.cutAt(topMm + 1e-3);
    invalidate();
  }, [stack, topMm, invalidate]);
  return <primitive object={stack.mesh} />;
}
