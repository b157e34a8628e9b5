/** The same colouring as `core/picture`, on a graphics chip: a picture goes in and comes out without leaving it. */
import type { ColourSettings } from '../../core/picture/colour-settings';
import { channelCurve, keyNumbers, LUMA } from '../../core/picture/grade';

const VERTEX = `#version 300 es
void main() {
  // One triangle over everything.
  vec2 at = vec2(gl_VertexID == 1 ? 3.0 : -1.0, gl_VertexID == 2 ? 3.0 : -1.0);
  gl_Position = vec4(at, 0.0, 1.0);
}`;

const FRAGMENT = `#version 300 es
precision highp float;
precision highp int;
precision highp sampler2D;
precision highp sampler3D;
uniform sampler2D picture;
uniform sampler2D curves;
uniform sampler3D cube;
uniform sampler2D line;
uniform int height;
uniform bool hasCurves, hasKey;
uniform int dimensions, tableSize;
uniform float saturation, strength, edge, spill, gone, kept;
uniform vec2 keyed, direction;
uniform vec3 domainMin, domainMax;
out vec4 result;
const vec3 LUMA = vec3(${LUMA.join(', ')});
const float TO_B = ${(1 / (2 * (1 - LUMA[2]))).toFixed(9)};
const float TO_R = ${(1 / (2 * (1 - LUMA[0]))).toFixed(9)};

vec2 chroma(vec3 c) {
  float y = dot(c, LUMA);
  return vec2((c.b - y) * TO_B, (c.r - y) * TO_R);
}
float keptOf(vec4 point) {
  if (!hasKey) return point.a;
  float t = clamp((distance(chroma(point.rgb), keyed) - gone) / (kept - gone), 0.0, 1.0);
  return t * t * (3.0 - 2.0 * t) * point.a;
}
float curve(float v, int c) {
  float x = clamp(v, 0.0, 1.0) * 255.0;
  int low = min(int(x), 254);
  return mix(texelFetch(curves, ivec2(low, 0), 0)[c], texelFetch(curves, ivec2(low + 1, 0), 0)[c], x - float(low));
}
vec3 lineAt(int i) {
  return texelFetch(line, ivec2(i % 4096, i / 4096), 0).rgb;
}
vec3 looked(vec3 c) {
  vec3 at = clamp((c - domainMin) / (domainMax - domainMin), 0.0, 1.0) * float(tableSize - 1);
  ivec3 low = min(ivec3(at), ivec3(tableSize - 2));
  vec3 f = at - vec3(low);
  if (dimensions == 1)
    return vec3(
      mix(lineAt(low.r).r, lineAt(low.r + 1).r, f.r),
      mix(lineAt(low.g).g, lineAt(low.g + 1).g, f.g),
      mix(lineAt(low.b).b, lineAt(low.b + 1).b, f.b));
  ivec3 first, second;
  float high, middle, least;
  if (f.x >= f.y) {
    if (f.y >= f.z) { first = ivec3(1,0,0); second = ivec3(1,1,0); high = f.x; middle = f.y; least = f.z; }
    else if (f.x >= f.z) { first = ivec3(1,0,0); second = ivec3(1,0,1); high = f.x; middle = f.z; least = f.y; }
    else { first = ivec3(0,0,1); second = ivec3(1,0,1); high = f.z; middle = f.x; least = f.y; }
  } else if (f.z >= f.y) { first = ivec3(0,0,1); second = ivec3(0,1,1); high = f.z; middle = f.y; least = f.x; }
  else if (f.z >= f.x) { first = ivec3(0,1,0); second = ivec3(0,1,1); high = f.y; middle = f.z; least = f.x; }
  else { first = ivec3(0,1,0); second = ivec3(1,1,0); high = f.y; middle = f.x; least = f.z; }
  return texelFetch(cube, low, 0).rgb * (1.0 - high)
    + texelFetch(cube, low + first, 0).rgb * (high - middle)
    + texelFetch(cube, low + second, 0).rgb * (middle - least)
    + texelFetch(cube, low + ivec3(1), 0).rgb * least;
}
void main() {
  // Rows of a picture go down, those of the drawing up.
  ivec2 at = ivec2(int(gl_FragCoord.x), height - 1 - int(gl_FragCoord.y));
  vec4 point = texelFetch(picture, at, 0);
  float alpha = keptOf(point);
  if (hasKey && edge > 0.0) {
    ivec2 last = textureSize(picture, 0) - 1;
    float sum = 0.0;
    float count = 0.0;
    for (int dy = -1; dy <= 1; dy++)
      for (int dx = -1; dx <= 1; dx++) {
        ivec2 p = at + ivec2(dx, dy);
        if (any(lessThan(p, ivec2(0))) || any(greaterThan(p, last))) continue;
        sum += keptOf(texelFetch(picture, p, 0));
        count += 1.0;
      }
    alpha = clamp((sum / count - edge * 0.9) / (1.0 - edge * 0.9), 0.0, 1.0);
  }
  vec3 c = point.rgb;
  if (hasKey) {
    vec2 uv = chroma(c);
    float along = dot(uv, direction);
    float across = abs(uv.x * direction.y - uv.y * direction.x);
    vec2 left = uv - spill * max(0.0, along - across) * direction;
    float y = dot(c, LUMA);
    float r = y + left.y / TO_R;
    float b = y + left.x / TO_B;
    c = vec3(r, (y - LUMA.r * r - LUMA.b * b) / LUMA.g, b);
  }
  if (hasCurves) {
    c = vec3(curve(c.r, 0), curve(c.g, 1), curve(c.b, 2));
    c = mix(vec3(dot(c, LUMA)), c, saturation);
  }
  c = clamp(c, 0.0, 1.0);
  if (dimensions > 0) c = clamp(mix(c, looked(c), strength), 0.0, 1.0);
  result = vec4(c * alpha, alpha);
}`;

/** Renderers that draw without a chip. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

/** Colours pictures with WebGL 2. One serves all sources: it holds the tables of the setting used last. */
export class ColourGpu {
  readonly #canvas = new OffscreenCanvas(16, 16);
  readonly #gl: WebGL2RenderingContext;
  readonly #program: WebGLProgram;
  readonly #textures: Record<'picture' | 'curves' | 'cube' | 'line', WebGLTexture>;
  #settings: ColourSettings | null = null;

  private constructor(gl: WebGL2RenderingContext, canvas: OffscreenCanvas) {
    this.#gl = gl;
    this.#canvas = canvas;
    this.#program = link(gl);
    gl.useProgram(this.#program);
    const make = (unit: number, name: string) => {
      gl.uniform1i(gl.getUniformLocation(this.#program, name), unit);
      return gl.createTexture();
    };
    this.#textures = {
      picture: make(0, 'picture'),
      curves: make(1, 'curves'),
      cube: make(2, 'cube'),
      line: make(3, 'line'),
    };
  }

  /**
   * @param withChip only where a graphics chip does the work: without one, plain code is quicker than reading back
   * @returns null where there is none
   */
  static open(withChip = true): ColourGpu | null {
    const canvas = new OffscreenCanvas(16, 16);
    const gl = canvas.getContext('webgl2', {
      premultipliedAlpha: true,
      failIfMajorPerformanceCaveat: withChip,
      antialias: false,
      depth: false,
    });
    if (!gl) return null;
    // Not every browser counts drawing in software as a caveat.
    const names = gl.getExtension('WEBGL_debug_renderer_info');
    const renderer = String(gl.getParameter(names ? names.UNMASKED_RENDERER_WEBGL : gl.RENDERER));
    if (withChip && SOFTWARE.test(renderer)) {
      gl.getExtension('WEBGL_lose_context')?.loseContext();
      return null;
    }
    return new ColourGpu(gl, canvas);
  }

  /** Whether the chip has been taken away: a driver that was restarted, a computer that slept. */
  get lost(): boolean {
    return this.#gl.isContextLost();
  }

  /** @returns the coloured picture, the same canvas each time: to be copied before the next one */
  run(picture: OffscreenCanvas, settings: ColourSettings): OffscreenCanvas {
    const gl = this.#gl;
    const { width, height } = picture;
    if (this.#canvas.width !== width || this.#canvas.height !== height) {
      this.#canvas.width = width;
      this.#canvas.height = height;
    }
    gl.viewport(0, 0, width, height);
    if (settings !== this.#settings) this.#set(settings);
    gl.uniform1i(this.#at('height'), height);
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, this.#textures.picture);
    gl.pixelStorei(gl.UNPACK_PREMULTIPLY_ALPHA_WEBGL, false);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, gl.RGBA, gl.UNSIGNED_BYTE, picture);
    nearest(gl, gl.TEXTURE_2D);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    return this.#canvas;
  }

  #at(name: string): WebGLUniformLocation | null {
    return this.#gl.getUniformLocation(this.#program, name);
  }

  #set(settings: ColourSettings): void {
    this.#settings = settings;
    const gl = this.#gl;
    const { values, table, strength, key } = settings;
    const used = table && strength > 0 ? table : null;
    gl.uniform1i(this.#at('hasCurves'), values ? 1 : 0);
    gl.uniform1i(this.#at('hasKey'), key ? 1 : 0);
    gl.uniform1i(this.#at('dimensions'), used?.dimensions ?? 0);
    gl.uniform1i(this.#at('tableSize'), used?.size ?? 2);
    gl.uniform1f(this.#at('strength'), strength);
    gl.uniform1f(this.#at('saturation'), 1 + (values?.saturation ?? 0));
    gl.uniform3fv(this.#at('domainMin'), used?.domain.min ?? [0, 0, 0]);
    gl.uniform3fv(this.#at('domainMax'), used?.domain.max ?? [1, 1, 1]);
    if (key) {
      const k = keyNumbers(key);
      gl.uniform2f(this.#at('keyed'), k.cb, k.cr);
      gl.uniform2f(this.#at('direction'), k.ub, k.ur);
      gl.uniform1f(this.#at('gone'), k.gone);
      gl.uniform1f(this.#at('kept'), k.kept);
      gl.uniform1f(this.#at('spill'), key.spill);
      gl.uniform1f(this.#at('edge'), key.edge);
    }
    const curves = new Float32Array(256 * 3);
    if (values)
      for (const c of [0, 1, 2] as const) {
        const curve = channelCurve(values, c);
        for (let v = 0; v < 256; v++) curves[v * 3 + c] = curve(v / 255);
      }
    this.#fill2d(1, this.#textures.curves, 256, 1, curves);
    const three = used?.dimensions === 3 ? used : null;
    gl.activeTexture(gl.TEXTURE2);
    gl.bindTexture(gl.TEXTURE_3D, this.#textures.cube);
    const n = three?.size ?? 2;
    gl.texImage3D(
      gl.TEXTURE_3D,
      0,
      gl.RGB32F,
      n,
      n,
      n,
      0,
      gl.RGB,
      gl.FLOAT,
      three?.values ?? new Float32Array(24),
    );
    nearest(gl, gl.TEXTURE_3D);
    const one = used?.dimensions === 1 ? used : null;
    const width = Math.min(4096, one?.size ?? 2);
    const rows = Math.ceil((one?.size ?? 2) / 4096);
    const padded = new Float32Array(width * rows * 3);
    if (one) padded.set(one.values);
    this.#fill2d(3, this.#textures.line, width, rows, padded);
  }

  #fill2d(unit: number, texture: WebGLTexture, width: number, height: number, data: Float32Array): void {
    const gl = this.#gl;
    gl.activeTexture(gl.TEXTURE0 + unit);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGB32F, width, height, 0, gl.RGB, gl.FLOAT, data);
    nearest(gl, gl.TEXTURE_2D);
  }
}

function nearest(gl: WebGL2RenderingContext, target: number): void {
  gl.texParameteri(target, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
  gl.texParameteri(target, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
}

function link(gl: WebGL2RenderingContext): WebGLProgram {
  const program = gl.createProgram();
  for (const [type, source] of [
    [gl.VERTEX_SHADER, VERTEX],
    [gl.FRAGMENT_SHADER, FRAGMENT],
  ] as const) {
    const shader = gl.createShader(type)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS))
      throw new Error(`the colour program cannot be made: ${gl.getShaderInfoLog(shader)}`);
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  return program;
}
