import { useMemo } from "react";
import { Vector3 } from "three";
import { Border } from "../../../scene/Border";
import { useLaying } from "../../../state/laying";

/** The outline of the page that is being laid, where it comes to lie: flat, or bent around its axis. */
export function LayFrame({ size, lift }: { size: [number, number]; lift: number }) {
  const { put, how, turnDeg } = useLaying();
  const ends = useMemo(() => {
    if (!put) return null;
    const at = new Vector3(...put.at);
    const [w, h] = size;
    const turn = (turnDeg * Math.PI) / 180;
    // From the middle of the page to the right and up, once it is turned.
    const turned = ([x, y]: readonly [number, number]) => [
      Math.cos(turn) * x - Math.sin(turn) * y,
      Math.sin(turn) * x + Math.cos(turn) * y,
    ];
    let place: (x: number, y: number) => Vector3;
    if (how === "around") {
      const centre = new Vector3(...put.centre);
      const out = new Vector3(at.x - centre.x, at.y - centre.y, 0);
      const radius = out.length();
      if (radius < 0.1) return null;
      out.normalize();
      const aside = new Vector3(-out.y, out.x, 0);
      place = (x, y) =>
        new Vector3(centre.x, centre.y, at.z + y)
          .addScaledVector(out, radius * Math.cos(x / radius))
          .addScaledVector(aside, radius * Math.sin(x / radius));
    } else {
      const facing = new Vector3(...(how === "view" ? put.view.facing : put.normal)).normalize();
      const upright =
        how === "view" ? new Vector3(...put.view.up) : Math.abs(facing.z) > 0.999 ? new Vector3(0, 1, 0) : new Vector3(0, 0, 1);
      const right = new Vector3().crossVectors(upright, facing).normalize();
      const up = new Vector3().crossVectors(facing, right);
      place = (x, y) => at.clone().addScaledVector(right, x).addScaledVector(up, y).addScaledVector(facing, 0.1);
    }
    const steps = how === "around" ? 32 : 1;
    const corners = [
      [-w / 2, -h / 2],
      [w / 2, -h / 2],
      [w / 2, h / 2],
      [-w / 2, h / 2],
    ] as const;
    const line: number[] = [];
    corners.forEach(([x, y], i) => {
      const [p, q] = corners[(i + 1) % 4] ?? corners[0];
      for (let k = 0; k < steps; k++) {
        for (const s of [k / steps, (k + 1) / steps]) {
          const [u = 0, v = 0] = turned([x + s * (p - x), y + s * (q - y)]);
          line.push(...place(u, v).toArray());
        }
      }
    });
    return Float32Array.from(line);
  }, [put, how, turnDeg, size]);
  return ends && <Border ends={ends} lift={lift} width={1.6} isOnTop />;
}
