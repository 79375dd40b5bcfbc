import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { RehearsalView } from "../../api/generated/RehearsalView";
import type { MoveData } from "../../api/moveData";
import { Bench } from "../../scene/Bench";
import { coloursOf, speedsOf } from "../../scene/beads/colours";
import { stackOf } from "../../scene/beads/stacked";
import { movesDone, roomOf } from "./whereItIs";

/** All that is laid so far, on the bench, with the nozzle over it. */
export function GrowingPrint({ job, data, rehearsal }: { job: JobView; data: MoveData; rehearsal: RehearsalView }) {
  const move = movesDone(data, rehearsal);
  const room = useMemo(() => roomOf(data), [data]);
  const leaves = rehearsal.nozzle[rehearsal.nozzle.length - 1] ?? "#888888";
  return (
    <Bench low={room.low} size={room.size} fits={0} covered={0.12}>
      <Growing job={job} data={data} move={move} />
      <NozzleTip data={data} move={Math.min(move, data.count - 1)} colour={leaves} />
    </Bench>
  );
}

function Growing({ job, data, move }: { job: JobView; data: MoveData; move: number }) {
  const invalidate = useThree((s) => s.invalidate);
  const stack = useMemo(() => stackOf(data), [data]);
  useEffect(() => () => stack.dispose(), [stack]);
  useEffect(() => {
    const colours = job.slots.map((s) => s.colour);
    const moves = { length: stack.moves.length, at: (n: number) => stack.moves[n] ?? 0 };
    stack.paint(coloursOf(data, moves, "spool", colours, speedsOf(data)));
  }, [stack, data, job.slots]);
  useEffect(() => {
    stack.laidUntil(move);
    invalidate();
  }, [stack, move, invalidate]);
  return <primitive object={stack.mesh} />;
}

/** The nozzle as a tip in the colour that leaves it. */
function NozzleTip({ data, move, colour }: { data: MoveData; move: number; colour: string }) {
  const at = [0, 1, 2].map((axis) => data.places[3 * move + axis] ?? 0);
  const size = 5;
  return (
    <group position={[at[0] ?? 0, at[1] ?? 0, (at[2] ?? 0) + 0.1]}>
      <mesh position={[0, 0, 0.5 * size]} rotation={[-Math.PI / 2, 0, 0]}>
        <coneGeometry args={[0.38 * size, size, 24]} />
        <meshBasicMaterial color="#f4f4f2" />
      </mesh>
      <mesh>
        <sphereGeometry args={[0.16 * size, 16, 12]} />
        <meshBasicMaterial color={colour} />
      </mesh>
    </group>
  );
}
