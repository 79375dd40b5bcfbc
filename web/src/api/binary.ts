/** Readers of the binary formats in docs/wire-format.md. Little-endian throughout. */

export interface MeshData {
  facets: number;
  positions: Float32Array;
  corners: Uint32Array;
  partOf: Uint32Array;
  /** Three signed bytes and a zero for every corner. */
  normals: Int8Array;
}

/** The triangles that stand in for divided facets, in ascending order of the facets. */
export interface DivisionData {
  count: number;
  facetOf: Uint32Array;
  /** Nine numbers a triangle. */
  positions: Float32Array;
  /** For each corner: shares of the facet's edges from corner 0 to corners 1 and 2. */
  shares: Float32Array;
  regions: Uint16Array;
}

export interface PatchData {
  count: number;
  patchOf: Uint32Array;
  /** Patch on either side of each border edge; 0xffffffff is "outside". */
  sides: Uint32Array;
  /** Six numbers for each border edge: its two ends. */
  ends: Float32Array;
}

function header(buffer: ArrayBuffer, magic: string): [number, number, number] {
  const text = String.fromCharCode(...new Uint8Array(buffer, 0, 4));
  const numbers = new Uint32Array(buffer, 4, 4);
  if (text !== magic || numbers[0] !== 1) throw new Error(`unknown format ${text}`);
  return [numbers[1] ?? 0, numbers[2] ?? 0, numbers[3] ?? 0];
}

export function readMesh(buffer: ArrayBuffer): MeshData {
  const [vertices, facets] = header(buffer, "VCM1");
  let at = 20;
  const positions = new Float32Array(buffer, at, 3 * vertices);
  at += 12 * vertices;
  const corners = new Uint32Array(buffer, at, 3 * facets);
  at += 12 * facets;
  const partOf = new Uint32Array(buffer, at, facets);
  at += 4 * facets;
  return { facets, positions, corners, partOf, normals: new Int8Array(buffer, at, 12 * facets) };
}

export function readDivisions(buffer: ArrayBuffer): DivisionData {
  const [count] = header(buffer, "VCD1");
  return {
    count,
    facetOf: new Uint32Array(buffer, 20, count),
    positions: new Float32Array(buffer, 20 + 4 * count, 9 * count),
    shares: new Float32Array(buffer, 20 + 40 * count, 6 * count),
    regions: new Uint16Array(buffer, 20 + 64 * count, count),
  };
}

export function readPatches(buffer: ArrayBuffer): PatchData {
  const [facets, count, edges] = header(buffer, "VCP1");
  const patchOf = new Uint32Array(buffer, 20, facets);
  const sides = new Uint32Array(buffer, 20 + 4 * facets, 2 * edges);
  const ends = new Float32Array(buffer, 20 + 4 * facets + 8 * edges, 6 * edges);
  return { count, patchOf, sides, ends };
}

/** The border of one patch as a flat list of segment ends. */
export function borderOf(data: PatchData, patch: number): Float32Array {
  const out: number[] = [];
  for (let e = 0; e < data.sides.length / 2; e++) {
    if (data.sides[2 * e] === patch || data.sides[2 * e + 1] === patch) {
      for (let i = 0; i < 6; i++) out.push(data.ends[6 * e + i] ?? 0);
    }
  }
  return new Float32Array(out);
}
