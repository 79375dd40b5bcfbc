import { useCallback } from "react";
import { Vector3 } from "three";
import type { JobView } from "../../../api/generated/JobView";
import type { Hit } from "../../../scene/Model";
import { stage } from "../../../scene/stage";
import { useLaying, type Put } from "../../../state/laying";
import { givenOf } from "./asked";
import type { Lay } from "./useLay";

type Point = [number, number, number];

const isRelief = (s: ReturnType<typeof useLaying.getState>) => s.step !== null && s.relief !== "none" && s.how !== "around";

/** Where the pointer is on the face below: a relief that lies already is moved on the face it stands on, not up its own letters. */
function onFace(s: ReturnType<typeof useLaying.getState>, hit: Hit): Point | null {
  if (!isRelief(s) || !s.put) return hit.point;
  const normal = new Vector3(...s.put.normal).normalize();
  const off = normal.dot(new Vector3(...hit.point).sub(new Vector3(...s.put.at)));
  const slack = s.relief === "through" ? 0.1 : s.reliefMm + 0.1;
  if (Math.abs(off) > slack) return null;
  const on = new Vector3(...hit.point).addScaledVector(normal, -off);
  return [on.x, on.y, on.z];
}

/** Puts what is in hand where the pointer is, and lays it when the button is let go. */
export function useOnLay(job: JobView, { change }: Lay) {
  return useCallback(
    (phase: "move" | "end", index: number, hit: Hit | null) => {
      const state = useLaying.getState();
      if (!givenOf(state)) return;
      if (phase === "end") {
        if (state.put) change({});
        return;
      }
      const camera = stage()?.camera;
      const model = job.models[index];
      if (!hit || !camera || !model) return;
      const on = onFace(state, hit);
      if (!on) return;
      const to = (v: Vector3): Point => [v.x, v.y, v.z];
      const facing = camera.getWorldDirection(new Vector3()).negate();
      const up = new Vector3().setFromMatrixColumn(camera.matrixWorld, 1);
      const nearest = model.parts.reduce<{ far: number; centre: Point } | null>((best, part) => {
        const far = Math.hypot(part.centre_mm[0] - hit.point[0], part.centre_mm[1] - hit.point[1]);
        return best && best.far <= far ? best : { far, centre: part.centre_mm };
      }, null);
      const put: Put = {
        model: model.name,
        at: on,
        normal: isRelief(state) && state.put ? state.put.normal : hit.normal,
        centre: nearest?.centre ?? on,
        view: { facing: to(facing), up: to(up) },
      };
      useLaying.getState().set({ put });
    },
    [job.models, change],
  );
}
