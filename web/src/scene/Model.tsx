import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import type { Vector3} from "three";
import { type Mesh } from "three";
import { acceleratedRaycast, MeshBVH } from "three-mesh-bvh";
import type { MeshData } from "../api/binary";
import type { Look } from "../state/bench";
import { linear } from "./colours";
import { facetTexture, fill } from "./facetTexture";
import { modelGeometry } from "./modelGeometry";
import { mostRegions, regionMaterial } from "./regionMaterial";

export interface Hit {
  /** Facet number. */
  facet: number;
  /** Point and outward direction in the mesh's own frame. */
  point: [number, number, number];
  normal: [number, number, number];
}

interface ModelProps {
  mesh: MeshData;
  labels: Uint16Array | undefined;
  /** Group of each facet: what one click takes. */
  groups: Uint32Array | undefined;
  hovered: number | null;
  /** Colour of each region by its number. */
  colours: Map<number, string>;
  looks: Record<Look, boolean>;
  cutAt: number;
  lift: number;
  /** Where equal pieces stand, each moved from this one's place; drawn alike. */
  shifts?: [number, number][];
  onHover?: (hit: Hit | null) => void;
  onPick?: (hit: Hit) => void;
}

/** As `hovered`: marks the whole model. */
export const wholeModel = 0xffffffff;

/** How far the pointer may move between press and release and still mean a click, px. */
const still = 4;

/** One model on the bench. */
export function Model(props: ModelProps) {
  const { mesh, labels, groups, hovered, colours, looks, cutAt, lift } = props;
  const invalidate = useThree((s) => s.invalidate);
  const object = useRef<Mesh>(null);
  const made = useMemo(() => {
    const geometry = modelGeometry(mesh);
    geometry.boundsTree = new MeshBVH(geometry, { indirect: true });
    const labelTexture = facetTexture(mesh.facets);
    const groupTexture = facetTexture(mesh.facets);
    return { geometry, labelTexture, groupTexture, material: regionMaterial(labelTexture, groupTexture) };
  }, [mesh]);
  useEffect(
    () => () => {
      made.geometry.dispose();
      made.labelTexture.dispose();
      made.groupTexture.dispose();
      made.material.dispose();
    },
    [made],
  );
  useEffect(() => {
    if (labels) fill(made.labelTexture, labels);
    invalidate();
  }, [labels, made, invalidate]);
  useEffect(() => {
    if (groups) fill(made.groupTexture, groups);
    invalidate();
  }, [groups, made, invalidate]);
  useEffect(() => {
    const u = made.material.uniforms;
    const palette = u["palette"]?.value as Vector3[];
    for (const [region, hex] of colours) palette[Math.min(region, mostRegions - 1)]?.set(...linear(hex));
    const set = (name: string, value: unknown) => {
      const uniform = u[name];
      if (uniform) uniform.value = value;
    };
    set("hovered", hovered ?? 0);
    set("isHovering", hovered !== null);
    set("hasPatterns", looks.patterns);
    set("hasEdges", looks.edges);
    set("opacity", looks.xray ? 0.38 : 1);
    set("cutAt", looks.cut ? cutAt : 1e9);
    made.material.transparent = looks.xray;
    made.material.depthWrite = !looks.xray;
    invalidate();
  }, [made, colours, hovered, looks, cutAt, invalidate]);

  const hitOf = (e: ThreeEvent<PointerEvent | MouseEvent>): Hit | null => {
    if (e.faceIndex === undefined || e.faceIndex === null || !e.face || !object.current) return null;
    const local = object.current.worldToLocal(e.point.clone());
    const n = e.face.normal;
    return { facet: e.faceIndex, point: [local.x, local.y, local.z], normal: [n.x, n.y, n.z] };
  };
  const [first, ...others] = props.shifts ?? [[0, 0]];
  return (
    <>
      {others.map(([x, y], i) => <mesh key={i} geometry={made.geometry} material={made.material} position={[x, y, lift]} raycast={() => null} />)}
      <mesh
        ref={object}
        raycast={acceleratedRaycast}
        geometry={made.geometry}
        material={made.material}
        position={[first?.[0] ?? 0, first?.[1] ?? 0, lift]}
        onPointerMove={(e) => {
          e.stopPropagation();
          props.onHover?.(e.buttons === 0 ? hitOf(e) : null);
        }}
        onPointerOut={() => props.onHover?.(null)}
        onClick={(e) => {
          const hit = hitOf(e);
          e.stopPropagation();
          if (hit && e.delta <= still) props.onPick?.(hit);
        }}
      />
    </>
  );
}
