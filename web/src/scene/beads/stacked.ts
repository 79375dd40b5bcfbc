import { BoxGeometry, GLSL3, InstancedBufferAttribute, InstancedBufferGeometry, Mesh, RawShaderMaterial } from "three";
import { TRAVEL, type MoveData } from "../../api/moveData";

const vertex = `precision highp float;
uniform mat4 modelViewMatrix;
uniform mat4 projectionMatrix;
uniform float top;
in vec3 position;
in vec3 normal;
in vec3 from;
in vec3 to;
in vec2 across; // width, height
in vec4 tint;
out vec3 shade;
void main() {
  vec3 d = to - from;
  float len = length(d.xy);
  vec2 along = len > 1e-6 ? d.xy / len : vec2(1.0, 0.0);
  vec2 side = vec2(-along.y, along.x);
  // Narrower at its foot and head: light then shows every line.
  float waist = abs(position.z) > 0.4 ? 0.86 : 1.0;
  vec2 flat_at = 0.5 * (from.xy + to.xy) + along * position.x * (len + across.x) + side * position.y * across.x * waist;
  float z = from.z - across.y * (0.5 - position.z);
  vec2 n = along * normal.x + side * normal.y;
  float light = 0.72 + 0.26 * normal.z + 0.12 * dot(n, normalize(vec2(0.6, -1.0)));
  shade = tint.rgb * light;
  gl_Position = from.z > top ? vec4(2.0, 2.0, 2.0, 1.0) : projectionMatrix * modelViewMatrix * vec4(flat_at, z, 1.0);
}`;

const fragment = `precision highp float;
in vec3 shade;
out vec4 pixel;
void main() { pixel = vec4(shade, 1.0); }`;

/** All that is laid, as bars that may be cut at a height. */
export interface Stack {
  mesh: Mesh;
  /** Numbers of the moves that lay something. */
  moves: Uint32Array;
  paint: (colours: Uint8Array) => void;
  cutAt: (mm: number) => void;
  /** Shows what is laid before a move, by its number. */
  laidUntil: (move: number) => void;
  dispose: () => void;
}

export function stackOf(data: MoveData): Stack {
  let count = 0;
  for (let i = 0; i < data.count; i++) if ((data.kinds[i] ?? TRAVEL) < TRAVEL) count++;
  const from = new Float32Array(3 * count);
  const to = new Float32Array(3 * count);
  const across = new Float32Array(2 * count);
  const moves = new Uint32Array(count);
  const layers = data.begins.length / 3;
  let [n, layer, height] = [0, -1, 0.2];
  for (let i = 0; i < data.count; i++) {
    while (layer + 1 < layers && (data.begins[3 * (layer + 1) + 2] ?? 0) <= i) {
      layer++;
      height = (data.spans[2 * layer + 1] ?? 0) - (data.spans[2 * layer] ?? 0);
    }
    if ((data.kinds[i] ?? TRAVEL) >= TRAVEL) continue;
    for (let axis = 0; axis < 3; axis++) {
      to[3 * n + axis] = data.places[3 * i + axis] ?? 0;
      from[3 * n + axis] = i > 0 ? (data.places[3 * (i - 1) + axis] ?? 0) : (to[3 * n + axis] ?? 0);
    }
    across[2 * n] = (data.widths[i] ?? 0) / 1000;
    across[2 * n + 1] = height;
    moves[n++] = i;
  }
  const box = new BoxGeometry(1, 1, 1);
  const geometry = new InstancedBufferGeometry();
  geometry.setIndex(box.getIndex());
  for (const name of ["position", "normal"] as const) geometry.setAttribute(name, box.getAttribute(name));
  geometry.setAttribute("from", new InstancedBufferAttribute(from, 3));
  geometry.setAttribute("to", new InstancedBufferAttribute(to, 3));
  geometry.setAttribute("across", new InstancedBufferAttribute(across, 2));
  geometry.setAttribute("tint", new InstancedBufferAttribute(new Uint8Array(4 * count), 4, true));
  geometry.instanceCount = count;
  const material = new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: vertex,
    fragmentShader: fragment,
    uniforms: { top: { value: 1e9 } },
  });
  const mesh = new Mesh(geometry, material);
  mesh.frustumCulled = false;
  mesh.raycast = () => undefined;
  return {
    mesh,
    moves,
    paint: (colours) => {
      geometry.setAttribute("tint", new InstancedBufferAttribute(colours, 4, true));
    },
    cutAt: (mm) => {
      const top = material.uniforms.top;
      if (top) top.value = mm;
    },
    laidUntil: (move) => {
      let [low, high] = [0, count];
      while (low < high) {
        const middle = (low + high) >> 1;
        if ((moves[middle] ?? 0) < move) low = middle + 1;
        else high = middle;
      }
      geometry.instanceCount = low;
    },
    dispose: () => {
      geometry.dispose();
      material.dispose();
      box.dispose();
    },
  };
}
