import type { MeshData } from "../api/binary";

/** How far a mesh is raised so that it stands on the bed, mm; as the planning does. */
export function liftOf(mesh: MeshData): number {
  let low = Infinity;
  for (let i = 2; i < mesh.positions.length; i += 3) low = Math.min(low, mesh.positions[i] ?? 0);
  return Number.isFinite(low) ? -low : 0;
}
