/** Draws the beads of one layer from above on the graphics card: each a stadium as wide as it is laid. */

const vertex = `#version 300 es
precision highp float;
layout(location = 0) in vec2 corner;
layout(location = 1) in vec2 from;
layout(location = 2) in vec2 to;
layout(location = 3) in float width;
layout(location = 4) in vec4 colour;
uniform vec3 view; // middle x, y; pixels a mm
uniform vec2 size; // pixels
uniform int head; // the move that is being made
uniform vec2 tip; // where it has come to
uniform float least; // least width of a line, pixels
out vec2 local;
out vec2 shape; // half its length and half its width, pixels
out vec4 tint;
void main() {
  vec2 end = gl_InstanceID == head ? tip : to;
  vec2 d = end - from;
  float length = length(d);
  vec2 along = length > 1e-6 ? d / length : vec2(1.0, 0.0);
  vec2 across = vec2(-along.y, along.x);
  float half_width = 0.5 * max(width * view.z, least);
  float half_length = 0.5 * length * view.z;
  // A pixel more all round, for smooth edges.
  local = corner * vec2(half_length + half_width + 1.0, half_width + 1.0);
  shape = vec2(half_length, half_width);
  vec2 at = (0.5 * (from + end) - view.xy) * view.z + along * local.x + across * local.y;
  gl_Position = vec4(2.0 * at / size, 0.0, 1.0);
  tint = colour;
}`;

const fragment = `#version 300 es
precision highp float;
in vec2 local;
in vec2 shape;
in vec4 tint;
out vec4 pixel;
void main() {
  float off = length(vec2(max(abs(local.x) - shape.x, 0.0), local.y));
  float inside = shape.y - off;
  if (inside < -0.5 || tint.a < 0.01) discard;
  // Darker along its sides, so that neighbours are told apart; not where one stretch of it joins the next.
  float side = shape.y - abs(local.y);
  float edge = shape.y > 1.5 ? smoothstep(-0.2, min(1.8, 0.45 * shape.y), side) : 1.0;
  pixel = vec4(tint.rgb * mix(0.55, 1.0, edge), tint.a * clamp(inside + 0.5, 0.0, 1.0));
}`;

export interface FlatView {
  /** Middle of what is seen, mm, and pixels a mm. */
  middle: [number, number];
  scale: number;
}

export class FlatBeads {
  private readonly gl: WebGL2RenderingContext;
  private readonly program: WebGLProgram;
  private readonly places: WebGLBuffer;
  private readonly tints: WebGLBuffer;
  private count = 0;

  /** None where the browser has no graphics card to draw with. */
  static on(canvas: HTMLCanvasElement): FlatBeads | null {
    const gl = canvas.getContext("webgl2", { antialias: true, premultipliedAlpha: false });
    return gl ? new FlatBeads(gl) : null;
  }

  private constructor(gl: WebGL2RenderingContext) {
    this.gl = gl;
    const shader = (type: number, text: string) => {
      const made = gl.createShader(type);
      if (!made) throw new Error("no shader");
      gl.shaderSource(made, text);
      gl.compileShader(made);
      if (!gl.getShaderParameter(made, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(made) ?? "shader");
      return made;
    };
    this.program = gl.createProgram();
    gl.attachShader(this.program, shader(gl.VERTEX_SHADER, vertex));
    gl.attachShader(this.program, shader(gl.FRAGMENT_SHADER, fragment));
    gl.linkProgram(this.program);
    const corners = gl.createBuffer();
    gl.bindBuffer(gl.ARRAY_BUFFER, corners);
    gl.bufferData(gl.ARRAY_BUFFER, new Float32Array([-1, -1, 1, -1, -1, 1, 1, 1]), gl.STATIC_DRAW);
    gl.enableVertexAttribArray(0);
    gl.vertexAttribPointer(0, 2, gl.FLOAT, false, 0, 0);
    this.places = gl.createBuffer();
    this.tints = gl.createBuffer();
    gl.bindBuffer(gl.ARRAY_BUFFER, this.places);
    for (const [location, size, offset] of [
      [1, 2, 0],
      [2, 2, 8],
      [3, 1, 16],
    ] as const) {
      gl.enableVertexAttribArray(location);
      gl.vertexAttribPointer(location, size, gl.FLOAT, false, 20, offset);
      gl.vertexAttribDivisor(location, 1);
    }
    gl.bindBuffer(gl.ARRAY_BUFFER, this.tints);
    gl.enableVertexAttribArray(4);
    gl.vertexAttribPointer(4, 4, gl.UNSIGNED_BYTE, true, 0, 0);
    gl.vertexAttribDivisor(4, 1);
  }

  /** Takes other moves: five numbers each (from, to, width), and four bytes of colour. */
  take(places: Float32Array, colours: Uint8Array) {
    const { gl } = this;
    gl.bindBuffer(gl.ARRAY_BUFFER, this.places);
    gl.bufferData(gl.ARRAY_BUFFER, places, gl.DYNAMIC_DRAW);
    gl.bindBuffer(gl.ARRAY_BUFFER, this.tints);
    gl.bufferData(gl.ARRAY_BUFFER, colours, gl.DYNAMIC_DRAW);
    this.count = colours.length / 4;
  }

  /** Draws the first so many; the last of them up to a place. */
  draw(view: FlatView, shown: number, tip: readonly [number, number] | null) {
    const { gl, program } = this;
    const { width, height } = gl.canvas;
    gl.viewport(0, 0, width, height);
    gl.clearColor(0, 0, 0, 0);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.enable(gl.BLEND);
    gl.blendFuncSeparate(gl.SRC_ALPHA, gl.ONE_MINUS_SRC_ALPHA, gl.ONE, gl.ONE_MINUS_SRC_ALPHA);
    gl.useProgram(program);
    const at = (name: string) => gl.getUniformLocation(program, name);
    gl.uniform3f(at("view"), view.middle[0], view.middle[1], view.scale);
    gl.uniform2f(at("size"), width, height);
    gl.uniform1f(at("least"), 1.3 * window.devicePixelRatio);
    gl.uniform1i(at("head"), tip ? shown - 1 : -1);
    gl.uniform2f(at("tip"), tip?.[0] ?? 0, tip?.[1] ?? 0);
    gl.drawArraysInstanced(gl.TRIANGLE_STRIP, 0, 4, Math.min(shown, this.count));
  }
}
