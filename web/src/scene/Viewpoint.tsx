import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { Box3} from "three";
import { PerspectiveCamera, Sphere, Vector3 } from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";

/** Turns, zooms and pans by mouse and touchpad; fits the view to the box when asked to. Redraws only on a change. */
export function Viewpoint({ box, fits, low = 0 }: {
  box: Box3;
  fits: number;
  /** Share of the height at the foot that is covered by tools. */
  low?: number;
}) {
  const camera = useThree((s) => s.camera);
  const dom = useThree((s) => s.gl.domElement);
  const invalidate = useThree((s) => s.invalidate);
  const controls = useRef<OrbitControls | null>(null);
  useEffect(() => {
    const orbit = new OrbitControls(camera, dom);
    orbit.addEventListener("change", () => invalidate());
    controls.current = orbit;
    return () => orbit.dispose();
  }, [camera, dom, invalidate]);
  useEffect(() => {
    if (box.isEmpty() || !(camera instanceof PerspectiveCamera) || !controls.current) return;
    const sphere = box.getBoundingSphere(new Sphere());
    const half = Math.tan((camera.fov * Math.PI) / 360) * Math.min(1, camera.aspect) * (1 - low);
    const distance = (1.02 * sphere.radius) / Math.sin(Math.atan(half));
    // Below the middle, so that the model stands clear of the tray.
    const target = sphere.center.clone().add(new Vector3(0, 0, -low * 0.55 * sphere.radius));
    camera.up.set(0, 0, 1);
    camera.position.copy(target).add(new Vector3(0.35, -1, 0.42).normalize().multiplyScalar(distance));
    camera.near = distance / 100;
    camera.far = distance * 20;
    camera.updateProjectionMatrix();
    controls.current.target.copy(target);
    controls.current.update();
    invalidate();
  }, [box, fits, low, camera, invalidate]);
  return null;
}
