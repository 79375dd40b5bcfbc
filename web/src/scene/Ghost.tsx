import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide, Mesh, MeshBasicMaterial } from "three";

/** A body that is not there yet, or that two parts share: seen through whatever stands before it. */
export function Ghost({
  corners,
  lift,
  colour = 0x6a2859,
}: {
  /** Corners of loose triangles, mm. */
  corners: Float32Array;
  lift: number;
  colour?: number;
}) {
  const invalidate = useThree((s) => s.invalidate);
  const body = useMemo(() => {
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(corners, 3));
    const material = new MeshBasicMaterial({
      color: colour,
      transparent: true,
      opacity: 0.3,
      depthTest: false,
      depthWrite: false,
      side: DoubleSide,
    });
    const mesh = new Mesh(geometry, material);
    mesh.renderOrder = 5;
    return mesh;
  }, [corners, colour]);
  useEffect(() => {
    invalidate();
    return () => {
      body.geometry.dispose();
      body.material.dispose();
      invalidate();
    };
  }, [body, invalidate]);
  return <primitive object={body} position={[0, 0, lift]} raycast={() => null} />;
}
