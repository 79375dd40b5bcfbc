import { BufferAttribute, BufferGeometry } from "three";
import type { MeshData } from "../api/binary";

/**
 * Loose triangles for drawing: three vertices a facet, so that the shader knows the facet by `gl_VertexID / 3` and
 * looks up its region and patch. Positions are in the mesh's own frame, mm.
 */
export function modelGeometry(mesh: MeshData): BufferGeometry {
  const positions = new Float32Array(9 * mesh.facets);
  for (let i = 0; i < 3 * mesh.facets; i++) {
    const from = 3 * (mesh.corners[i] ?? 0);
    positions[3 * i] = mesh.positions[from] ?? 0;
    positions[3 * i + 1] = mesh.positions[from + 1] ?? 0;
    positions[3 * i + 2] = mesh.positions[from + 2] ?? 0;
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(mesh.normals, 4, true));
  geometry.computeBoundingBox();
  geometry.computeBoundingSphere();
  return geometry;
}
