import { useMemo, type ReactNode } from "react";
import { Box3, Vector3 } from "three";
import { BedOutline } from "./BedOutline";
import { BenchCanvas } from "./BenchCanvas";
import { Viewpoint, type Focus } from "./Viewpoint";

/** The neutral grey room around the models, with a disc or the printer's bed to stand on. */
export function Bench({
  low,
  size,
  bed,
  fits,
  covered,
  aside,
  focus,
  children,
}: {
  /** Lowest corner and size of everything, mm, standing on the bed. */
  low: readonly number[];
  size: readonly number[];
  /** The printer's bed, drawn instead of the disc. */
  bed?: readonly number[];
  fits: number;
  /** Share of the height at the foot that is covered by tools. */
  covered?: number;
  /** Share of the width at the left that is covered by a panel. */
  aside?: number;
  focus?: Focus | null;
  children: ReactNode;
}) {
  const [x = 0, y = 0] = low;
  const [w = 1, d = 1, h = 1] = size;
  const box = useMemo(() => new Box3(new Vector3(x, y, 0), new Vector3(x + w, y + d, h)), [x, y, w, d, h]);
  const centre = box.getCenter(new Vector3());
  return (
    <BenchCanvas fov={28} background="#d8dadb">
      <Viewpoint box={box} fits={fits} low={covered ?? 0} left={aside ?? 0} focus={focus ?? null} />
      {bed ? (
        <BedOutline x={centre.x} y={centre.y} width={bed[0] ?? 200} depth={bed[1] ?? 200} />
      ) : (
        <mesh position={[centre.x, centre.y, -0.02]} raycast={() => null}>
          <circleGeometry args={[0.75 * Math.hypot(w, d), 96]} />
          <meshBasicMaterial color="#c6c8c9" />
        </mesh>
      )}
      {children}
    </BenchCanvas>
  );
}
