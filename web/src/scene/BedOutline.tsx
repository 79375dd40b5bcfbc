import { useEffect, useMemo } from "react";
import { BufferGeometry, Float32BufferAttribute } from "three";

/** The bed: a sheet with a line every 20 mm. */
export function BedOutline({ x, y, width, depth }: { x: number; y: number; width: number; depth: number }) {
  const lines = useMemo(() => {
    const ends: number[] = [];
    const step = 20;
    for (let i = -Math.floor(width / 2 / step); i * step <= width / 2; i++) ends.push(i * step, -depth / 2, 0, i * step, depth / 2, 0);
    for (let i = -Math.floor(depth / 2 / step); i * step <= depth / 2; i++) ends.push(-width / 2, i * step, 0, width / 2, i * step, 0);
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new Float32BufferAttribute(ends, 3));
    return geometry;
  }, [width, depth]);
  useEffect(() => () => lines.dispose(), [lines]);
  return (
    <group position={[x, y, -0.03]}>
      <mesh raycast={() => null} position={[0, 0, -0.02]}>
        <planeGeometry args={[width, depth]} />
        <meshBasicMaterial color="#cbcdce" />
      </mesh>
      <lineSegments geometry={lines} raycast={() => null}>
        <lineBasicMaterial color="#bfc1c3" />
      </lineSegments>
    </group>
  );
}
