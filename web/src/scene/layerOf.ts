import type { BufferGeometry, DataTexture, ShaderMaterial } from "three";
import { MeshBVH } from "three-mesh-bvh";
import type { DivisionData, MeshData } from "../api/binary";
import { facetTexture, fill } from "./facetTexture";
import { divisionGeometry, modelGeometry, type Shifts } from "./modelGeometry";
import { regionMaterial } from "./regionMaterial";

/** What one draw of a model is made of: loose triangles, and what each of them is. */
export interface Layer {
  geometry: BufferGeometry;
  labels: DataTexture;
  groups: DataTexture;
  material: ShaderMaterial;
  dispose: () => void;
}

function layer(geometry: BufferGeometry, count: number, partOf: (triangle: number) => number): Layer {
  const labels = facetTexture(count);
  const groups = facetTexture(count);
  const parts = facetTexture(count);
  fill(
    parts,
    Array.from({ length: count }, (_, t) => partOf(t)),
  );
  const material = regionMaterial(labels, groups, parts);
  return {
    geometry,
    labels,
    groups,
    material,
    dispose: () => [geometry, labels, groups, parts, material].forEach((held) => held.dispose()),
  };
}

/** The facets of a model, with search by ray. */
export function facetLayer(mesh: MeshData, apart: Shifts | null): Layer {
  const geometry = modelGeometry(mesh, apart);
  geometry.boundsTree = new MeshBVH(geometry, { indirect: true });
  return layer(geometry, mesh.facets, (f) => mesh.partOf[f] ?? 0);
}

/** The triangles that stand in for divided facets. */
export function divisionLayer(mesh: MeshData, divisions: DivisionData, apart: Shifts | null): Layer {
  const made = layer(divisionGeometry(mesh, divisions, apart), divisions.count, (t) => mesh.partOf[divisions.facetOf[t] ?? 0] ?? 0);
  fill(made.labels, divisions.regions);
  return made;
}
