import { DoubleSide, GLSL3, ShaderMaterial, Vector3, type DataTexture } from "three";

const most = 64;

const vertexShader = /* glsl */ `
  precision highp usampler2D;
  uniform usampler2D labels;
  uniform usampler2D groups;
  flat out uint vRegion;
  flat out uint vGroup;
  out vec3 vNormal;
  out vec3 vView;
  out vec3 vBary;
  out float vHeight;
  void main() {
    int facet = gl_VertexID / 3;
    ivec2 at = ivec2(facet % 2048, facet / 2048);
    vRegion = texelFetch(labels, at, 0).r;
    vGroup = texelFetch(groups, at, 0).r;
    int corner = gl_VertexID % 3;
    vBary = vec3(corner == 0, corner == 1, corner == 2);
    vNormal = normalMatrix * normal.xyz;
    vec4 view = modelViewMatrix * vec4(position, 1.0);
    vView = view.xyz;
    vHeight = (modelMatrix * vec4(position, 1.0)).z;
    gl_Position = projectionMatrix * view;
  }
`;

const fragmentShader = /* glsl */ `
  precision highp float;
  uniform vec3 palette[${most}];
  uniform uint hovered;
  uniform bool isHovering;
  uniform bool hasPatterns;
  uniform bool hasEdges;
  uniform float opacity;
  uniform float cutAt;
  flat in uint vRegion;
  flat in uint vGroup;
  in vec3 vNormal;
  in vec3 vView;
  in vec3 vBary;
  in float vHeight;
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
  void main() {
    if (vHeight > cutAt) discard;
    bool isBack = !gl_FrontFacing;
    vec3 n = normalize(isBack ? -vNormal : vNormal);
    vec3 base = palette[min(vRegion, ${most - 1}u)];
    if (isBack) base *= 0.55;
    // White light from above left of the eye and a grey surround: nothing tints the filament.
    float key = max(dot(n, normalize(vec3(-0.45, 0.65, 0.75))), 0.0);
    float sky = 0.5 + 0.5 * n.y;
    vec3 lit = base * (0.34 + 0.22 * sky + 0.58 * key);
    if (hasPatterns) lit = mix(lit, dot(base, vec3(0.33)) > 0.18 ? vec3(0.0) : vec3(1.0), 0.4 * pattern(vRegion));
    if (isHovering && (vGroup == hovered || hovered == 0xffffffffu)) {
      float stripe = mod(gl_FragCoord.x + gl_FragCoord.y, 10.0) < 3.0 ? 0.30 : 0.10;
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

/** Colours each facet by its region, and marks the facets a click would take. */
export function regionMaterial(labels: DataTexture, groups: DataTexture): ShaderMaterial {
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader,
    fragmentShader,
    side: DoubleSide,
    uniforms: {
      labels: { value: labels },
      groups: { value: groups },
      palette: { value: Array.from({ length: most }, () => new Vector3(0.5, 0.5, 0.5)) },
      hovered: { value: 0 },
      isHovering: { value: false },
      hasPatterns: { value: false },
      hasEdges: { value: false },
      opacity: { value: 1 },
      cutAt: { value: 1e9 },
    },
  });
}

export const mostRegions = most;
