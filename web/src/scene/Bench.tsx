import { Canvas } from "@react-three/fiber";
import { useMemo, type ReactNode } from "react";
import { Box3, Vector3 } from "three";
import type { MeshData } from "../api/binary";
import { Viewpoint } from "./Viewpoint";

/** The neutral grey room around the model, with a disc to stand on. */
export function Bench({ mesh, lift, fits, low, children }: {
  mesh: MeshData;
  lift: number;
  fits: number;
  low?: number;
  children: ReactNode;
}) {
  const box = useMemo(() => {
    const found = new Box3();
    const p = new Vector3();
    for (let i = 0; i < mesh.positions.length; i += 3) {
      found.expandByPoint(p.set(mesh.positions[i] ?? 0, mesh.positions[i + 1] ?? 0, (mesh.positions[i + 2] ?? 0) + lift));
    }
    return found;
  }, [mesh, lift]);
  const centre = box.getCenter(new Vector3());
  const size = box.getSize(new Vector3());
  const radius = 0.75 * Math.hypot(size.x, size.y);
  return (
    <Canvas frameloop="demand" camera={{ fov: 28 }} gl={{ antialias: true }} flat style={{ background: "#d8dadb" }} aria-label="Bench">
      <Viewpoint box={box} fits={fits} {...(low === undefined ? {} : { low })} />
      <mesh position={[centre.x, centre.y, -0.02]} raycast={() => null}>
        <circleGeometry args={[radius, 96]} />
        <meshBasicMaterial color="#c6c8c9" />
      </mesh>
      {children}
    </Canvas>
  );
}
