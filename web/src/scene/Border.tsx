import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { LineMaterial } from "three/addons/lines/LineMaterial.js";
import { LineSegments2 } from "three/addons/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/addons/lines/LineSegmentsGeometry.js";

/** The border of what a click would take, drawn over everything. */
export function Border({
  ends,
  lift,
  colour = 0x6a2859,
  width = 2.2,
  isOnTop = false,
}: {
  ends: Float32Array;
  lift: number;
  colour?: number;
  width?: number;
  /** Seen through whatever stands before it. */
  isOnTop?: boolean;
}) {
  const size = useThree((s) => s.size);
  const invalidate = useThree((s) => s.invalidate);
  const line = useMemo(() => {
    const geometry = new LineSegmentsGeometry();
    geometry.setPositions(ends);
    const material = new LineMaterial({
      color: colour,
      linewidth: width,
      depthTest: !isOnTop,
      polygonOffset: true,
      polygonOffsetFactor: -4,
      polygonOffsetUnits: -4,
    });
    return new LineSegments2(geometry, material);
  }, [ends, colour, width, isOnTop]);
  useEffect(() => {
    line.material.resolution.set(size.width, size.height);
    invalidate();
    return () => {
      line.geometry.dispose();
      line.material.dispose();
    };
  }, [line, size, invalidate]);
  return <primitive object={line} position={[0, 0, lift]} raycast={() => null} />;
}
