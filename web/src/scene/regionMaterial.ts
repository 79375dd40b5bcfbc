import { DataTexture, DoubleSide, FloatType, GLSL3, RGBAFormat, ShaderMaterial, Vector3, Vector4 } from "three";

/** Values in one row of what the shader fetches. */
const rowLength = 256;

/** Points of a running stroke that the shader draws; longer strokes are thinned to this many. */
export const mostStrokePoints = 96;

/** As a region: this facet is divided, its triangles are drawn in its place. */
export const dividedRegion = 0xffff;

const vertexShader = /* glsl */ `
  precision highp usampler2D;
  uniform usampler2D labels;
  uniform usampler2D groups;
  uniform usampler2D parts;
  uniform int aloneRegion;
  uniform int alonePart;
  flat out uint vRegion;
  flat out uint vGroup;
  out vec3 vNormal;
  out vec3 vPlace;
  out vec3 vBary;
  out float vHeight;
  out float vUp;
  void main() {
    int facet = gl_VertexID / 3;
    ivec2 at = ivec2(facet % 2048, facet / 2048);
    vRegion = texelFetch(labels, at, 0).r;
    vGroup = texelFetch(groups, at, 0).r;
    int corner = gl_VertexID % 3;
    vBary = vec3(corner == 0, corner == 1, corner == 2);
    vNormal = normalMatrix * normal.xyz;
    vPlace = position;
    vUp = normalize(mat3(modelMatrix) * normal.xyz).z;
    vHeight = (modelMatrix * vec4(position, 1.0)).z;
    bool isHidden = vRegion == ${dividedRegion}u
      || (aloneRegion >= 0 && int(vRegion) != aloneRegion)
      || (alonePart >= 0 && int(texelFetch(parts, at, 0).r) != alonePart);
    gl_Position = isHidden ? vec4(2.0, 2.0, 2.0, 1.0) : projectionMatrix * modelViewMatrix * vec4(position, 1.0);
  }
`;

const fragmentShader = /* glsl */ `
  precision highp float;
  // A row of linear colours, by region: as many as a job has.
  uniform sampler2D palette;
  uniform uint hovered;
  uniform bool isHovering;
  uniform bool hasPatterns;
  uniform bool hasEdges;
  uniform bool isGrey;
  uniform float opacity;
  uniform float cutAt;
  uniform vec3 stroke[${mostStrokePoints}];
  uniform int strokePoints;
  uniform float strokeRadius;
  uniform vec4 strokeBall;
  uniform bool isThrough;
  // Lower and upper height of each band.
  uniform sampler2D bands;
  uniform int bandCount;
  flat in uint vRegion;
  flat in uint vGroup;
  in vec3 vNormal;
  in vec3 vPlace;
  in vec3 vBary;
  in float vHeight;
  in float vUp;
  // Marks what faces further down than this; more than 1 marks nothing.
  uniform float hangs;
  out vec4 colour;
  // One pattern per region, told apart by direction and pitch.
  float pattern(uint region) {
    if (region == 0u) return 0.0;
    vec2 p = gl_FragCoord.xy;
    uint kind = region % 5u;
    float a = kind == 1u ? p.x + p.y : kind == 2u ? p.x - p.y : kind == 3u ? p.x : kind == 4u ? p.y : 0.0;
    if (kind == 0u) return length(mod(p, 9.0) - 4.5) < 2.0 ? 1.0 : 0.0;
    return mod(a, 9.0 + float(region / 5u) * 4.0) < 2.0 ? 1.0 : 0.0;
  }
  // Distance to the running stroke.
  float strokeDistance() {
    if (distance(vPlace, strokeBall.xyz) > strokeBall.w + strokeRadius) return 1e9;
    float d = distance(vPlace, stroke[0]);
    for (int i = 1; i < ${mostStrokePoints}; i++) {
      if (i >= strokePoints) break;
      vec3 a = stroke[i - 1], ab = stroke[i] - a;
      float t = clamp(dot(vPlace - a, ab) / max(dot(ab, ab), 1e-12), 0.0, 1.0);
      d = min(d, distance(vPlace, a + t * ab));
    }
    return d;
  }
  bool isTaken(bool isBack) {
    if (isHovering && (vGroup == hovered || hovered == 0xffffffffu)) return true;
    for (int i = 0; i < bandCount; i++) {
      vec2 band = texelFetch(bands, ivec2(i % ${rowLength}, i / ${rowLength}), 0).xy;
      if (vHeight > band.x && vHeight < band.y) return true;
    }
    return strokePoints > 0 && (isThrough || !isBack) && strokeDistance() < strokeRadius;
  }
  void main() {
    if (vHeight > cutAt) discard;
    bool isBack = !gl_FrontFacing;
    vec3 n = normalize(isBack ? -vNormal : vNormal);
    vec3 base = texelFetch(palette, ivec2(int(vRegion) % ${rowLength}, int(vRegion) / ${rowLength}), 0).rgb;
    if (isGrey) base = vec3(dot(base, vec3(0.2126, 0.7152, 0.0722)));
    if (isBack) base *= 0.55;
    // White light from above left of the eye and a grey surround: nothing tints the filament.
    float key = max(dot(n, normalize(vec3(-0.45, 0.65, 0.75))), 0.0);
    float sky = 0.5 + 0.5 * n.y;
    vec3 lit = base * (0.34 + 0.22 * sky + 0.58 * key);
    if (hasPatterns) lit = mix(lit, dot(base, vec3(0.33)) > 0.18 ? vec3(0.0) : vec3(1.0), 0.4 * pattern(vRegion));
    // What lies on the bed is held by it.
    if (!isBack && vUp < -hangs && vHeight > 0.05) {
      lit = mix(lit, vec3(0.38, 0.018, 0.022), mod(gl_FragCoord.x - gl_FragCoord.y, 8.0) < 3.5 ? 0.85 : 0.3);
    }
    if (isTaken(isBack)) {
      float stripe = mod(gl_FragCoord.x + gl_FragCoord.y, 10.0) < 3.0 ? 0.42 : 0.16;
      lit = mix(lit, vec3(0.145, 0.021, 0.1), stripe);
    }
    if (hasEdges) {
      vec3 w = fwidth(vBary);
      vec3 e = smoothstep(vec3(0.0), w * 1.1, vBary);
      lit = mix(vec3(0.02), lit, 0.55 + 0.45 * min(min(e.x, e.y), e.z));
    }
    colour = linearToOutputTexel(vec4(lit, opacity));
  }
`;

/** Colours each facet by its region, and marks what a click would take. */
export function regionMaterial(labels: DataTexture, groups: DataTexture, parts: DataTexture): ShaderMaterial {
  const vectors = (n: number) => Array.from({ length: n }, () => new Vector3(0.5, 0.5, 0.5));
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader,
    fragmentShader,
    side: DoubleSide,
    uniforms: {
      labels: { value: labels },
      groups: { value: groups },
      parts: { value: parts },
      palette: { value: row([[0.5, 0.5, 0.5]]) },
      hovered: { value: 0 },
      isHovering: { value: false },
      hasPatterns: { value: false },
      hasEdges: { value: false },
      isGrey: { value: false },
      opacity: { value: 1 },
      cutAt: { value: 1e9 },
      hangs: { value: 2 },
      aloneRegion: { value: -1 },
      alonePart: { value: -1 },
      stroke: { value: vectors(mostStrokePoints) },
      strokePoints: { value: 0 },
      strokeRadius: { value: 1 },
      strokeBall: { value: new Vector4() },
      isThrough: { value: false },
      bands: { value: row([[0, 0, 0]]) },
      bandCount: { value: 0 },
    },
  });
}

/** Puts other numbers in the place of some; the texture is made anew only where they differ. */
export function refill(uniform: { value: unknown } | undefined, values: readonly (readonly [number, number, number])[]) {
  if (!uniform) return;
  const now = uniform.value as DataTexture;
  const next = row(values);
  const [a, b] = [now.image.data as Float32Array, next.image.data as Float32Array];
  if (a.length === b.length && a.every((v, i) => v === b[i])) return next.dispose();
  now.dispose();
  uniform.value = next;
}

/** Numbers for the shader to fetch, three at a time, in rows. */
function row(values: readonly (readonly [number, number, number])[]): DataTexture {
  const rows = Math.max(1, Math.ceil(values.length / rowLength));
  const data = new Float32Array(4 * rowLength * rows);
  values.forEach((v, i) => data.set(v, 4 * i));
  const texture = new DataTexture(data, rowLength, rows, RGBAFormat, FloatType);
  texture.needsUpdate = true;
  return texture;
}
