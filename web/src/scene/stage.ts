// Types alone: the palette and the keys turn the view without bringing the 3D library along before a bench is on show.
import type { PerspectiveCamera } from "three";
import type { OrbitControls } from "three/addons/controls/OrbitControls.js";

/** The camera of the bench on show and what turns it; for tools that draw on the screen. */
export interface Stage {
  camera: PerspectiveCamera;
  orbit: OrbitControls;
  dom: HTMLCanvasElement;
  redraw: () => void;
  /** The bench as it is looked at, as a PNG of twice the size. */
  picture: () => Promise<Blob | null>;
}

let present: Stage | null = null;

export const stage = (): Stage | null => present;

export function setStage(next: Stage | null) {
  present = next;
}

/** Saves the bench as it is looked at as a picture of that name. */
export async function savePicture(name: string) {
  const picture = await present?.picture();
  if (!picture) return;
  const url = URL.createObjectURL(picture);
  const link = document.createElement("a");
  link.href = url;
  link.download = `${name.replace(/[^\p{L}\p{N}]+/gu, "-").toLowerCase()}.png`;
  link.click();
  // Not before the browser has taken it.
  window.setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** Which buttons turn the view: with a drawing tool over the model the left one draws and the right one turns. */
export function setButtons({ draws, isOver }: { draws: boolean; isOver: boolean }) {
  if (!present) return;
  const none = -1 as never;
  // 0 turns, 1 zooms, 2 pans.
  present.orbit.mouseButtons = { LEFT: draws && isOver ? none : 0, MIDDLE: 1, RIGHT: draws ? 0 : 2 };
}

export type Side = "front" | "back" | "left" | "right" | "top" | "bottom";

const ways: Record<Side, [number, number, number]> = {
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
  // A hair off the axis, so that "up" stays defined.
  top: [0, -1e-3, 1],
  bottom: [0, -1e-3, -1],
};

/** Looks along an axis, from as far as before. */
export function lookFrom(side: Side) {
  if (!present) return;
  const { camera, orbit } = present;
  const distance = camera.position.distanceTo(orbit.target);
  camera.position.copy(orbit.target).add(
    orbit.target
      .clone()
      .set(...ways[side])
      .normalize()
      .multiplyScalar(distance),
  );
  orbit.update();
  present.redraw();
}

/** Turns the view by angles in radians: to the right, and up. */
export function turnBy(across: number, up: number) {
  if (!present) return;
  const { camera, orbit } = present;
  const d = camera.position.clone().sub(orbit.target);
  const radius = d.length();
  const flat = Math.atan2(d.y, d.x) + across;
  const rise = Math.min(Math.max(Math.asin(d.z / radius) + up, -1.56), 1.56);
  camera.position
    .copy(orbit.target)
    .add(d.set(Math.cos(rise) * Math.cos(flat), Math.cos(rise) * Math.sin(flat), Math.sin(rise)).multiplyScalar(radius));
  orbit.update();
  present.redraw();
}

/** Moves nearer (below 1) or further. */
export function zoomBy(factor: number) {
  if (!present) return;
  const { camera, orbit } = present;
  const away = camera.position.clone().sub(orbit.target).multiplyScalar(factor);
  camera.position.copy(orbit.target).add(away);
  orbit.update();
  present.redraw();
}

/** Moves the view sideways and up, as shares of the distance. */
export function panBy(across: number, up: number) {
  if (!present) return;
  const { camera, orbit } = present;
  const distance = camera.position.distanceTo(orbit.target);
  const right = orbit.target
    .clone()
    .setFromMatrixColumn(camera.matrix, 0)
    .multiplyScalar(across * distance);
  const above = orbit.target
    .clone()
    .setFromMatrixColumn(camera.matrix, 1)
    .multiplyScalar(up * distance);
  const by = right.add(above);
  camera.position.add(by);
  orbit.target.add(by);
  orbit.update();
  present.redraw();
}

/** Where the eye is and what it looks at, mm. */
export function viewNow(): { eye: [number, number, number]; target: [number, number, number] } | null {
  if (!present) return null;
  const { camera, orbit } = present;
  return { eye: camera.position.toArray(), target: orbit.target.toArray() };
}

export function goToView(view: { eye: [number, number, number]; target: [number, number, number] }) {
  if (!present) return;
  present.camera.position.set(...view.eye);
  present.orbit.target.set(...view.target);
  present.orbit.update();
  present.redraw();
}
