import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { Box3 } from "three";
import { PerspectiveCamera, Sphere, Vector3 } from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";

import { setStage } from "./stage";

/** A place to look at from near. */
export interface Focus {
  at: readonly [number, number, number];
  radius: number;
}

/** A model that moves or grows by less than this share of the view leaves the view alone. */
const settled = 0.6;

/** Turns, zooms and pans by mouse and touchpad; fits the view to the box when asked to. Redraws only on a change. */
export function Viewpoint({
  box,
  fits,
  low = 0,
  left = 0,
  focus,
}: {
  box: Box3;
  fits: number;
  /** Share of the height at the foot that is covered by tools. */
  low?: number;
  /** Share of the width at the left that is covered. */
  left?: number;
  focus: Focus | null;
}) {
  const camera = useThree((s) => s.camera);
  const dom = useThree((s) => s.gl.domElement);
  const invalidate = useThree((s) => s.invalidate);
  const gl = useThree((s) => s.gl);
  const scene = useThree((s) => s.scene);
  const { width, height } = useThree((s) => s.size);
  const controls = useRef<OrbitControls | null>(null);
  const fitted = useRef<{ sphere: Sphere; fits: number; aspect: number; from: Vector3 } | null>(null);
  useEffect(() => {
    // Drawn larger once, and read before the next frame is drawn over it.
    const picture = () =>
      new Promise<Blob | null>((resolve) => {
        const ratio = gl.getPixelRatio();
        gl.setPixelRatio(2 * ratio);
        gl.render(scene, camera);
        dom.toBlob((blob) => {
          gl.setPixelRatio(ratio);
          invalidate();
          resolve(blob);
        }, "image/png");
      });
    const orbit = new OrbitControls(camera, dom);
    orbit.addEventListener("change", () => invalidate());
    controls.current = orbit;
    if (camera instanceof PerspectiveCamera) setStage({ camera, orbit, dom, redraw: invalidate, picture });
    return () => {
      setStage(null);
      orbit.dispose();
    };
  }, [camera, dom, gl, scene, invalidate]);
  // The middle of the view is the middle of what is left free.
  useEffect(() => {
    if (!(camera instanceof PerspectiveCamera)) return;
    if (left > 0) camera.setViewOffset(width, height, -0.5 * left * width, 0, width, height);
    else camera.clearViewOffset();
    invalidate();
  }, [left, width, height, camera, invalidate]);
  useEffect(() => {
    if (box.isEmpty() || !(camera instanceof PerspectiveCamera) || !controls.current || !width || !height) return;
    const aspect = width / height;
    const sphere = box.getBoundingSphere(new Sphere());
    const last = fitted.current;
    if (last && last.fits === fits) {
      const growth = sphere.radius / last.sphere.radius;
      const shift = sphere.center.distanceTo(last.sphere.center) / last.sphere.radius;
      // A page that found its size late, or another size of the window: fitted again while nobody has moved the view.
      const isMoved = camera.position.distanceTo(last.from) > 1e-9 * last.sphere.radius;
      if (growth > settled && growth < 1 / settled && shift < settled && (isMoved || aspect === last.aspect)) {
        invalidate();
        return;
      }
    }
    const half = Math.tan((camera.fov * Math.PI) / 360) * Math.min(1, aspect) * (1 - low);
    const distance = (1.02 * sphere.radius) / Math.sin(Math.atan(half));
    // Below the middle, so that the model stands clear of the tray.
    const target = sphere.center.clone().add(new Vector3(0, 0, -low * 0.55 * sphere.radius));
    camera.up.set(0, 0, 1);
    // Flat things are looked down on.
    const size = box.getSize(new Vector3());
    const flatness = Math.min(1, size.z / (0.4 * Math.max(size.x, size.y, 1e-6)));
    camera.position.copy(target).add(new Vector3(0.35, -1, 1.5 - 1.08 * flatness).normalize().multiplyScalar(distance));
    camera.near = distance / 100;
    camera.far = distance * 20;
    camera.updateProjectionMatrix();
    controls.current.target.copy(target);
    controls.current.update();
    fitted.current = { sphere: sphere.clone(), fits, aspect, from: camera.position.clone() };
    invalidate();
  }, [box, fits, low, width, height, camera, invalidate]);
  useEffect(() => {
    const orbit = controls.current;
    if (!focus || !orbit) return;
    const whole = box.getBoundingSphere(new Sphere());
    const target = new Vector3(...focus.at);
    // From outside, a little above, near enough to see the place in its surroundings.
    const out = target.clone().sub(whole.center);
    out.z = Math.max(out.z, 0) + 0.35 * whole.radius;
    if (out.lengthSq() < 1e-12) out.set(0.35, -1, 0.42);
    const distance = Math.max(6 * focus.radius, 0.9 * whole.radius);
    camera.position.copy(target).add(out.normalize().multiplyScalar(distance));
    orbit.target.copy(target);
    orbit.update();
    invalidate();
  }, [focus, box, camera, invalidate]);
  return null;
}
