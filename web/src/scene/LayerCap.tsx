import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { CanvasTexture, Mesh, MeshBasicMaterial, NearestFilter, PlaneGeometry, SRGBColorSpace } from "three";
import type { LayerDrawing } from "../api/generated/LayerDrawing";
import { cellImage } from "./cellImage";

/** A layer as it is printed, lying on the cut of the model: shows how deep each colour goes. */
export function LayerCap({ drawing, colours }: { drawing: LayerDrawing; colours: Map<number, string> }) {
  const invalidate = useThree((s) => s.invalidate);
  const cap = useMemo(() => {
    const size = [drawing.cells[0] * drawing.step_mm, drawing.cells[1] * drawing.step_mm] as const;
    const texture = new CanvasTexture(cellImage(drawing, (region) => colours.get(region) ?? "#888888", false));
    texture.magFilter = NearestFilter;
    texture.colorSpace = SRGBColorSpace;
    const material = new MeshBasicMaterial({
      map: texture,
      transparent: true,
      alphaTest: 0.5,
      toneMapped: false,
      polygonOffset: true,
      polygonOffsetFactor: -2,
      polygonOffsetUnits: -2,
    });
    const mesh = new Mesh(new PlaneGeometry(...size), material);
    mesh.position.set(drawing.origin[0] + size[0] / 2, drawing.origin[1] + size[1] / 2, drawing.z1_mm);
    return { mesh, texture, material };
  }, [drawing, colours]);
  useEffect(() => {
    invalidate();
    return () => {
      cap.texture.dispose();
      cap.material.dispose();
      cap.mesh.geometry.dispose();
    };
  }, [cap, invalidate]);
  return <primitive object={cap.mesh} raycast={() => null} />;
}
