import { useThree, type ThreeEvent } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { Raycaster, type Intersection, type Mesh, type Vector2 } from "three";
import { acceleratedRaycast } from "three-mesh-bvh";
import type { DivisionData, MeshData } from "../api/binary";
import type { Look } from "../state/bench";
import { applyBrush, type Brush } from "./brush";
import { linear } from "./colours";
import { fill } from "./facetTexture";
import { divisionLayer, facetLayer, type Layer } from "./layerOf";
import type { Shifts } from "./modelGeometry";
import { refill } from "./regionMaterial";

export interface Hit {
  /** Facet number. */
  facet: number;
  /** Point and outward direction in the mesh's own frame. */
  point: [number, number, number];
  normal: [number, number, number];
}

/** What alone is shown, by number; none shows all. */
export interface Alone {
  region: number | null;
  part: number | null;
}

interface ModelProps {
  mesh: MeshData;
  labels: Uint16Array | undefined;
  divisions?: DivisionData | undefined;
  /** Group of each piece: what one click takes. Triangles of divided facets follow the facets, or go with theirs. */
  groups: Uint32Array | undefined;
  hovered: number | null;
  /** Colour of each region by its number. */
  colours: Map<number, string>;
  looks: Partial<Record<Look, boolean>>;
  /** How far from upright a side may lean before it is marked as hanging, degrees. */
  leanDeg?: number;
  cutAt: number;
  lift: number;
  /** Where equal pieces stand, each moved from this one's place; drawn alike. */
  shifts?: [number, number][];
  /** How far parts are drawn from their places. */
  apart?: Shifts | null;
  alone?: Alone;
  brush?: Brush | null;
  onHover?: (hit: Hit | null) => void;
  onPick?: (hit: Hit) => void;
  /** A press and drags that begin on the model; return true to keep the view from turning. */
  onDraw?: (phase: "start" | "move", hit: Hit) => void;
}

/** As `hovered`: marks the whole model. */
export const wholeModel = 0xffffffff;

/** How far the pointer may move between press and release and still mean a click, px. */
const still = 4;

/** Places of a stroke lie this far apart at most, px. */
const gap = 8;

const between = new Raycaster();

const together: Alone = { region: null, part: null };

/** What printers print without supports, where nothing else is set; as in the core. */
const usualLeanDeg = 55;

/** One model on the bench. */
export function Model(props: ModelProps) {
  const {
    mesh,
    labels,
    divisions,
    groups,
    hovered,
    colours,
    looks,
    leanDeg = usualLeanDeg,
    cutAt,
    lift,
    apart = null,
    alone = together,
    brush = null,
  } = props;
  const invalidate = useThree((s) => s.invalidate);
  const object = useRef<Mesh>(null);
  const facets = useMemo(() => facetLayer(mesh, apart), [mesh, apart]);
  const fine = useMemo(() => (divisions && divisions.count > 0 ? divisionLayer(mesh, divisions, apart) : null), [mesh, divisions, apart]);
  useEffect(() => () => facets.dispose(), [facets]);
  useEffect(() => () => fine?.dispose(), [fine]);
  useEffect(() => {
    if (labels && labels.length === mesh.facets) fill(facets.labels, labels);
    invalidate();
  }, [labels, mesh, facets, invalidate]);
  useEffect(() => {
    if (groups) fill(facets.groups, groups.length > mesh.facets ? groups.subarray(0, mesh.facets) : groups);
    if (groups && fine && divisions) {
      const own = groups.length > mesh.facets ? groups.subarray(mesh.facets) : Uint32Array.from(divisions.facetOf, (f) => groups[f] ?? 0);
      fill(fine.groups, own);
    }
    invalidate();
  }, [groups, mesh, divisions, facets, fine, invalidate]);
  useEffect(() => {
    for (const layer of fine ? [facets, fine] : [facets]) show(layer, { colours, hovered, looks, leanDeg, cutAt, alone });
    invalidate();
  }, [facets, fine, colours, hovered, looks, leanDeg, cutAt, alone, invalidate]);
  useEffect(() => {
    for (const layer of fine ? [facets, fine] : [facets]) applyBrush(layer.material, brush);
    invalidate();
  }, [facets, fine, brush, invalidate]);

  const limit = looks.cut ? cutAt : Infinity;
  const raycast = useMemo(() => {
    // What is not drawn cannot be clicked.
    const isDrawn = (hit: Intersection) => {
      const f = hit.faceIndex ?? 0;
      const label = labels?.[f];
      return (
        hit.point.z <= limit &&
        (alone.part === null || mesh.partOf[f] === alone.part) &&
        (alone.region === null || label === alone.region || label === 0xffff)
      );
    };
    return function (this: Mesh, raycaster: Raycaster, hits: Intersection[]) {
      const all: Intersection[] = [];
      acceleratedRaycast.call(this, raycaster, all);
      all.sort((a, b) => a.distance - b.distance);
      const first = all.find(isDrawn);
      if (first) hits.push(first);
    };
  }, [mesh, labels, alone, limit]);

  const hitOf = (e: Intersection): Hit | null => {
    if (e.faceIndex === undefined || e.faceIndex === null || !e.face || !object.current) return null;
    const local = object.current.worldToLocal(e.point.clone());
    const shift = apart?.[mesh.partOf[e.faceIndex] ?? 0] ?? [0, 0, 0];
    const n = e.face.normal;
    return { facet: e.faceIndex, point: [local.x - shift[0], local.y - shift[1], local.z - shift[2]], normal: [n.x, n.y, n.z] };
  };
  /** Where a stroke was drawn last, in the screen's own units. */
  const trail = useRef<Vector2 | null>(null);
  /** Draws on to here; a fast pointer leaves no gaps, whatever the surface does in between. */
  const drawTo = (e: ThreeEvent<PointerEvent>, hit: Hit) => {
    const from = trail.current;
    const steps = from ? Math.min(60, Math.floor((from.distanceTo(e.pointer) * 400) / gap)) : 0;
    for (let i = 1; from && i < steps; i++) {
      const found: Intersection[] = [];
      between.setFromCamera(from.clone().lerp(e.pointer, i / steps), e.camera);
      if (object.current) raycast.call(object.current, between, found);
      const on = found[0] && hitOf(found[0]);
      if (on) props.onDraw?.("move", on);
    }
    trail.current = e.pointer.clone();
    props.onDraw?.("move", hit);
  };
  const [first, ...others] = props.shifts ?? [[0, 0]];
  const place: [number, number, number] = [first?.[0] ?? 0, first?.[1] ?? 0, lift];
  return (
    <>
      {others.map(([x, y], i) => (
        <mesh key={i} geometry={facets.geometry} material={facets.material} position={[x, y, lift]} raycast={() => null} />
      ))}
      {fine && <mesh geometry={fine.geometry} material={fine.material} position={place} raycast={() => null} />}
      <mesh
        ref={object}
        raycast={raycast}
        geometry={facets.geometry}
        material={facets.material}
        position={place}
        onPointerDown={(e) => {
          const hit = hitOf(e);
          if (e.button === 0 && hit && props.onDraw) {
            e.stopPropagation();
            trail.current = e.pointer.clone();
            props.onDraw("start", hit);
          }
        }}
        onPointerMove={(e) => {
          e.stopPropagation();
          const hit = hitOf(e);
          if (e.buttons === 0) props.onHover?.(hit);
          else if (hit && e.buttons === 1 && props.onDraw) drawTo(e, hit);
          else props.onHover?.(null);
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

function show(
  layer: Layer,
  seen: {
    colours: Map<number, string>;
    hovered: number | null;
    looks: Partial<Record<Look, boolean>>;
    leanDeg: number;
    cutAt: number;
    alone: Alone;
  },
) {
  const { colours, hovered, looks, leanDeg, cutAt, alone } = seen;
  const u = layer.material.uniforms;
  const palette: [number, number, number][] = Array.from({ length: Math.max(0, ...colours.keys()) + 1 }, () => [0.5, 0.5, 0.5]);
  for (const [region, hex] of colours) palette[region] = linear(hex);
  refill(u["palette"], palette);
  const set = (name: string, value: unknown) => {
    const uniform = u[name];
    if (uniform) uniform.value = value;
  };
  set("hovered", hovered ?? 0);
  set("isHovering", hovered !== null);
  set("hasPatterns", looks.patterns ?? false);
  set("hasEdges", looks.edges ?? false);
  set("isGrey", looks.grey ?? false);
  set("opacity", looks.xray ? 0.38 : 1);
  set("hangs", looks.hangs ? Math.sin((leanDeg * Math.PI) / 180) : 2);
  set("cutAt", looks.cut ? cutAt : 1e9);
  set("aloneRegion", alone.region ?? -1);
  set("alonePart", alone.part ?? -1);
  layer.material.transparent = looks.xray ?? false;
  layer.material.depthWrite = !looks.xray;
}
