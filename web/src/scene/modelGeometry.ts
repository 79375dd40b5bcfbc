import { BufferAttribute, BufferGeometry } from "three";
import type { DivisionData, MeshData } from "../api/binary";

/** How far each part is drawn from its place, mm. */
export type Shifts = readonly (readonly [number, number, number])[];

/**
 * Loose triangles for drawing: three vertices a facet, so that the shader knows the facet by `gl_VertexID / 3` and
 * looks up its region and patch. Positions are in the mesh's own frame, mm.
 */
export function modelGeometry(mesh: MeshData, apart: Shifts | null): BufferGeometry {
  const positions = new Float32Array(9 * mesh.facets);
  for (let i = 0; i < 3 * mesh.facets; i++) {
    const from = 3 * (mesh.corners[i] ?? 0);
    positions[3 * i] = mesh.positions[from] ?? 0;
    positions[3 * i + 1] = mesh.positions[from + 1] ?? 0;
    positions[3 * i + 2] = mesh.positions[from + 2] ?? 0;
  }
  if (apart) shiftParts(positions, (facet) => mesh.partOf[facet] ?? 0, apart);
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(mesh.normals, 4, true));
  geometry.computeBoundingBox();
  geometry.computeBoundingSphere();
  return geometry;
}

/** The triangles of divided facets, shaded like the facets they are of. */
export function divisionGeometry(mesh: MeshData, divisions: DivisionData, apart: Shifts | null): BufferGeometry {
  const positions = apart ? divisions.positions.slice() : divisions.positions;
  if (apart) shiftParts(positions, (t) => mesh.partOf[divisions.facetOf[t] ?? 0] ?? 0, apart);
  const normals = new Int8Array(12 * divisions.count);
  for (let i = 0; i < 3 * divisions.count; i++) {
    const facet = divisions.facetOf[Math.floor(i / 3)] ?? 0;
    const u = divisions.shares[2 * i] ?? 0;
    const v = divisions.shares[2 * i + 1] ?? 0;
    for (let k = 0; k < 3; k++) {
      const at = (corner: number) => mesh.normals[12 * facet + 4 * corner + k] ?? 0;
      normals[4 * i + k] = Math.round((1 - u - v) * at(0) + u * at(1) + v * at(2));
    }
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(normals, 4, true));
  geometry.computeBoundingSphere();
  return geometry;
}

function shiftParts(positions: Float32Array, partOf: (triangle: number) => number, apart: Shifts) {
  for (let t = 0; t < positions.length / 9; t++) {
    const shift = apart[partOf(t)] ?? [0, 0, 0];
    for (let i = 0; i < 9; i++) positions[9 * t + i] = (positions[9 * t + i] ?? 0) + (shift[i % 3] ?? 0);
  }
}
