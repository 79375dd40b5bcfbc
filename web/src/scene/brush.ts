import type { ShaderMaterial, Vector3, Vector4 } from "three";
import { mostStrokePoints, refill } from "./regionMaterial";

/** What is drawn over the model while a tool is held over it, in the mesh's own frame. */
export type Brush =
  | { kind: "stroke"; path: [number, number, number][]; radius: number; isThrough: boolean }
  | { kind: "bands"; heights: readonly (readonly [number, number])[] };

/** Puts a brush into a material; drawn at the next frame, without asking anyone. */
export function applyBrush(material: ShaderMaterial, brush: Brush | null) {
  const u = material.uniforms;
  const set = (name: string, value: unknown) => {
    const uniform = u[name];
    if (uniform) uniform.value = value;
  };
  if (brush?.kind !== "stroke") set("strokePoints", 0);
  if (brush?.kind !== "bands") set("bandCount", 0);
  if (brush?.kind === "bands") {
    refill(
      u["bands"],
      brush.heights.map(([low, high]) => [low, high, 0]),
    );
    set("bandCount", brush.heights.length);
  }
  if (brush?.kind === "stroke" && brush.path.length > 0) {
    const points = u["stroke"]?.value as Vector3[];
    // A long stroke is thinned for drawing; what is cut is the whole.
    const step = Math.max(1, (brush.path.length - 1) / (mostStrokePoints - 1));
    const count = Math.min(brush.path.length, mostStrokePoints);
    let low = [Infinity, Infinity, Infinity];
    let high = [-Infinity, -Infinity, -Infinity];
    for (let i = 0; i < count; i++) {
      const p = brush.path[Math.min(Math.round(i * step), brush.path.length - 1)] ?? [0, 0, 0];
      points[i]?.set(...p);
      low = low.map((c, k) => Math.min(c, p[k] ?? 0));
      high = high.map((c, k) => Math.max(c, p[k] ?? 0));
    }
    const [x = 0, y = 0, z = 0] = low.map((c, k) => 0.5 * (c + (high[k] ?? 0)));
    const reach = 0.5 * Math.hypot(...low.map((c, k) => (high[k] ?? 0) - c));
    set("strokePoints", count);
    set("strokeRadius", brush.radius);
    (u["strokeBall"]?.value as Vector4).set(x, y, z, reach);
    set("isThrough", brush.isThrough);
  }
}
