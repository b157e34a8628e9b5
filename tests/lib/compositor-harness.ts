/** The compositor alone in a page, fed with pictures made here: for pixel tests and for the bench. Bundled for the browser. */
import { USUAL_COLOUR } from '../../core/media/avc-colour';
import { NO_GRADE } from '../../core/show/colour-records';
import { documentOf, findRecord } from '../../core/show/document';
import { ColourProcess } from '../../core/picture/colour-process';
import type { ColourSettings } from '../../core/picture/colour-settings';
import { readCube } from '../../core/picture/cube-table';
import { ColourGpu } from '../../engine/video/colour-gpu';
import { ColouredSource } from '../../engine/video/sources/coloured-source';
import type { AnyRecord, FrameName, InputRecord } from '../../core/show/records';
import type { OnAir } from '../../core/motion/programme';
import type { Rect } from '../../core/geometry/rect';
import { systemClock } from '../../engine/system-clock';
import { Compositor } from '../../engine/video/compositor';
import { makeMask } from '../../engine/video/mask-pictures';
import { LiveAudience } from '../../engine/video/live-audience';
import { PictureEncoder } from '../../engine/video/picture-encoder';
import { AdjustedSource } from '../../engine/video/sources/adjusted-source';
import type { DrawContext, PictureSource } from '../../engine/video/sources/picture-source';
import type { ToUplinkPort } from '../../protocol/engine';
import { decodedPicture, gradedPoints, type DecodedAs } from './decoded-picture';
import { SimulatedSource } from '../../engine/video/sources/simulated-source';
import { TestPictureSource } from '../../engine/video/sources/test-picture-source';
import { TrackSource } from '../../engine/video/sources/track-source';

/** A picture given as RGBA rows; a still unless it is told to change. */
export interface GivenPicture {
  width: number;
  height: number;
  rgba: number[];
  changes?: boolean;
}

class GivenSource implements PictureSource {
  readonly state = 'ready';
  readonly message = '';
  readonly hasSound = false;
  readonly width: number;
  readonly height: number;
  version = 0;
  readonly canvas: OffscreenCanvas;

  constructor(readonly given: GivenPicture) {
    this.width = given.width;
    this.height = given.height;
    this.canvas = new OffscreenCanvas(given.width, given.height);
    const data = new ImageData(new Uint8ClampedArray(given.rgba), given.width, given.height);
    this.canvas.getContext('2d')!.putImageData(data, 0, 0);
  }

  advance(): void {
    if (this.given.changes) this.version += 1;
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    // Nothing between the pixels, so that every one can be told.
    context.imageSmoothingEnabled = false;
    context.drawImage(this.canvas, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  close(): void {
    // nothing is held
  }
}

class Bench {
  readonly compositor: Compositor;
  readonly sources = new Map<string, PictureSource>();

  constructor(records: AnyRecord[], pictures: Record<string, GivenPicture>) {
    for (const record of records)
      if (record.kind === 'input') {
        const inner = pictures[record.id] ? new GivenSource(pictures[record.id]) : simulated(record);
        if (!inner) continue;
        const coloured = new ColouredSource(new AdjustedSource(inner, record), () => null);
        coloured.colour({ grade: findRecord(documentOf(records), 'grade', record.gradeId), key: record.key });
        this.sources.set(record.id, coloured);
      }
    this.compositor = new Compositor({
      sources: this.sources,
      gradedFor: (_id, source, gradeId) => {
        const graded = new ColouredSource(source, () => null);
        graded.colour({ grade: findRecord(documentOf(records), 'grade', gradeId), key: null });
        return graded;
      },
      stingers: { draw: () => {} },
      fonts: { version: 0 },
      masks: {
        version: 0,
        get: (mask) => {
          const given = pictures[mask.assetId];
          return given ? makeMask(new GivenSource(given).canvas, mask) : null;
        },
      },
      audience: new LiveAudience(systemClock, () => {}),
    });
    this.compositor.setDocument(documentOf(records));
  }
}

/** What is made in code needs nothing from outside. */
function simulated({ source }: InputRecord): PictureSource | null {
  if (source.type === 'testPicture') return new TestPictureSource(source);
  return source.type === 'simulated' ? new SimulatedSource(source.picture) : null;
}

function canvasOf(width: number, height: number): { canvas: OffscreenCanvas; context: DrawContext } {
  const canvas = new OffscreenCanvas(width, height);
  return { canvas, context: canvas.getContext('2d', { alpha: false, willReadFrequently: true })! };
}

/** Pixels as text: a long list of numbers takes seconds to leave a page. */
function base64(data: Uint8ClampedArray): string {
  let text = '';
  for (let i = 0; i < data.length; i += 8192) text += String.fromCharCode(...data.subarray(i, i + 8192));
  return btoa(text);
}

/** One picture of a scene as RGBA, base64. */
export function render(
  records: AnyRecord[],
  pictures: Record<string, GivenPicture>,
  sceneId: string,
  frame: FrameName,
  width: number,
  height: number,
  now = 1,
): string {
  const bench = new Bench(records, pictures);
  const { context } = canvasOf(width, height);
  for (const source of bench.sources.values()) source.advance(now);
  bench.compositor.draw(context, { sceneId, poseId: null }, frame, width, height, now);
  return base64(context.getImageData(0, 0, width, height).data);
}

/** One picture of the layers on air while they move, as RGBA, base64. */
export function renderMoving(
  records: AnyRecord[],
  pictures: Record<string, GivenPicture>,
  onAir: OnAir,
  width: number,
  height: number,
  now: number,
): string {
  const bench = new Bench(records, pictures);
  const { context } = canvasOf(width, height);
  bench.compositor.drawMoving(context, onAir, 'wide', width, height, now);
  return base64(context.getImageData(0, 0, width, height).data);
}

/**
 * The pictures of a scene from `first` to `count` - 1, thirty a second, drawn on one canvas: the last one as RGBA, how many
 * items were drawn, and how many finished.
 */
export function renderMany(
  records: AnyRecord[],
  pictures: Record<string, GivenPicture>,
  sceneId: string,
  width: number,
  height: number,
  count: number,
  first = 0,
): { rgba: string; drawn: number; finished: number } {
  const bench = new Bench(records, pictures);
  const { context } = canvasOf(width, height);
  for (let i = first; i < count; i++) {
    for (const source of bench.sources.values()) source.advance(i / 30);
    bench.compositor.draw(context, { sceneId, poseId: null }, 'wide', width, height, i / 30);
  }
  const { drawn, finished } = bench.compositor;
  return { rgba: base64(context.getImageData(0, 0, width, height).data), drawn, finished };
}

export interface TimedFrame {
  frame: FrameName;
  width: number;
  height: number;
}

/** Milliseconds for one picture of a scene in the given frames, drawing forced by reading a pixel of each. */
export function time(
  records: AnyRecord[],
  pictures: Record<string, GivenPicture>,
  sceneId: string,
  frames: TimedFrame[],
  count: number,
): number {
  const bench = new Bench(records, pictures);
  const targets = frames.map((f) => ({ ...f, ...canvasOf(f.width, f.height) }));
  let start = 0;
  for (let i = -10; i < count; i++) {
    if (i === 0) start = performance.now();
    for (const source of bench.sources.values()) source.advance((i + 10) / 30);
    for (const { context, frame, width, height } of targets) {
      bench.compositor.draw(context, { sceneId, poseId: null }, frame, width, height, (i + 10) / 30);
      context.getImageData(0, 0, 1, 1);
    }
  }
  return (performance.now() - start) / count;
}

/** Milliseconds for copying one whole picture of this size. */
export function timeCopy(width: number, height: number, count: number): number {
  const from = canvasOf(width, height);
  from.context.fillRect(10, 10, 100, 100);
  const to = canvasOf(width, height);
  let start = 0;
  for (let i = -10; i < count; i++) {
    if (i === 0) start = performance.now();
    to.context.drawImage(from.canvas, 0, 0);
    to.context.getImageData(0, 0, 1, 1);
  }
  return (performance.now() - start) / count;
}

/** Pictures as a camera gives them: 1280×720 in 4:2:0, each another one. */
class CameraSource implements PictureSource {
  readonly state = 'ready';
  readonly message = '';
  readonly hasSound = false;
  readonly width = 1280;
  readonly height = 720;
  version = 0;
  readonly #frames = Array.from({ length: 4 }, (_, n) => {
    const data = new Uint8Array(this.width * this.height * 1.5);
    for (let i = 0; i < data.length; i++) data[i] = 64 + (((i >> 3) * (n + 3)) % 97) + ((i * 31) & 7);
    return new VideoFrame(data, {
      format: 'I420',
      codedWidth: this.width,
      codedHeight: this.height,
      timestamp: n,
    });
  });

  advance(): void {
    this.version += 1;
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    const frame = this.#frames[this.version % this.#frames.length];
    context.drawImage(frame, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  frame(): VideoFrame {
    return this.#frames[this.version % this.#frames.length];
  }

  close(): void {
    for (const frame of this.#frames) frame.close();
  }
}

/** Milliseconds for one picture of a camera drawn at a size, coloured by a table where one is given. */
export async function timeColour(
  cube: string | null,
  width: number,
  height: number,
  count: number,
): Promise<number> {
  const table = cube === null ? null : readCube(cube);
  const source = new ColouredSource(new CameraSource(), () => table);
  if (table)
    source.colour({
      grade: { values: NO_GRADE, table: { assetId: 't', name: 't', strength: 1 }, smoothing: 0 },
      key: null,
    });
  const { context } = canvasOf(width, height);
  const whole = { x: 0, y: 0, width: source.width, height: source.height };
  let start = 0;
  for (let i = -10; i < count; i++) {
    if (i === 0) start = performance.now();
    source.advance(i / 30);
    await source.prepare();
    source.draw(context, whole, width, height);
    // Drawn now, not when somebody looks.
    context.getImageData(0, 0, 1, 1);
  }
  const ms = (performance.now() - start) / count;
  source.close();
  return ms;
}

/**
 * A picture coloured ahead of its drawing and the same one coloured when it is drawn, as RGBA, base64, and how often the
 * source below was drawn for the first; `unseen`: nothing is done for pictures that nobody drew. With `as` it gives itself
 * out as decoded, and `wanted` is what the reference makes of that.
 */
export async function colouredAhead(
  rgba: number[],
  width: number,
  height: number,
  as: DecodedAs | null,
): Promise<{ ahead: string; drawn: string; wanted: string | null; draws: number; unseen: boolean }> {
  const given = new GivenSource({ width, height, rgba, changes: true });
  const decoded = as && decodedPicture(rgba, width, height, as);
  const values = { ...NO_GRADE, contrast: 0.3, saturation: 0.5 };
  let draws = 0;
  const inner: PictureSource = Object.assign(Object.create(given) as GivenSource, {
    draw: (context: DrawContext, part: Rect, w: number, h: number) => {
      draws += 1;
      if (decoded) context.drawImage(decoded.frame, part.x, part.y, part.width, part.height, 0, 0, w, h);
      else given.draw(context, part, w, h);
    },
    frame: () => decoded?.frame ?? null,
  });
  const source = new ColouredSource(inner, () => null);
  source.colour({
    grade: { values, table: null, smoothing: 0 },
    key: null,
  });
  const whole = { x: 0, y: 0, width, height };
  const picture = () => {
    const { context } = clearCanvas(width, height);
    source.draw(context, whole, width, height);
    return base64(context.getImageData(0, 0, width, height).data);
  };
  source.advance(0);
  const drawn = picture();
  source.advance(1 / 30);
  draws = 0;
  await source.prepare();
  const ahead = picture();
  const drawsAhead = draws;
  source.advance(2 / 30);
  await source.prepare();
  source.advance(3 / 30);
  const unseen = source.prepare() === null;
  decoded?.frame.close();
  const wanted = decoded && base64(gradedPoints(decoded.points, values));
  return { ahead, drawn, wanted, draws: drawsAhead, unseen };
}

/**
 * What a camera's source shows of the last of these pictures, in the format they came in, base64.
 * @param pictures bytes of each, planes one after the other
 */
export async function asCameraShows(
  format: VideoPixelFormat,
  width: number,
  height: number,
  pictures: number[][],
  interlaced: boolean,
): Promise<{ bytes: string; format: string | null; stamp: number }> {
  const source = new TrackSource();
  source.interlaced = interlaced;
  const frames = pictures.map(
    (bytes, n) =>
      new VideoFrame(new Uint8Array(bytes), { format, codedWidth: width, codedHeight: height, timestamp: n }),
  );
  source.attach(
    new ReadableStream<VideoFrame>({
      start: (controller) => {
        for (const frame of frames) controller.enqueue(frame);
        controller.close();
      },
    }),
  );
  while (source.frame()?.timestamp !== pictures.length - 1)
    await new Promise((resolve) => setTimeout(resolve, 5));
  const shown = source.frame()!;
  const bytes = new Uint8ClampedArray(shown.allocationSize());
  await shown.copyTo(bytes);
  const answer = { bytes: base64(bytes), format: shown.format, stamp: shown.timestamp };
  source.close();
  return answer;
}

/** One picture coloured by plain code and by WebGL (in software where there is no chip), as RGBA, base64. */
export function colourBothWays(
  rgba: number[],
  width: number,
  height: number,
  settings: Omit<ColourSettings, 'table'> & { cube: string | null },
): { code: string; chip: string } {
  const whole: ColourSettings = {
    ...settings,
    table: settings.cube === null ? null : readCube(settings.cube),
  };
  const data = new Uint8ClampedArray(rgba);
  const { canvas, context } = clearCanvas(width, height);
  context.putImageData(new ImageData(new Uint8ClampedArray(rgba), width, height), 0, 0);
  new ColourProcess(whole).colour(data, width, height);
  const gpu = ColourGpu.open(false);
  if (!gpu) throw new Error('this browser has no WebGL 2');
  const out = clearCanvas(width, height);
  out.context.drawImage(gpu.run(canvas, whole), 0, 0);
  return { code: base64(data), chip: base64(out.context.getImageData(0, 0, width, height).data) };
}

/**
 * What a decoder gets of the pictures after a cut, which the encoder is given smaller than they are.
 * @param colours of the four quarters, row by row
 * @returns for every picture its size and the colours in the middle of its quarters; how many were softened
 */
export async function decodedAfterCut(
  width: number,
  height: number,
  colours: readonly string[],
): Promise<{ pictures: { size: number[]; quarters: number[][] }[]; softened: number }> {
  const { canvas, context } = clearCanvas(width, height);
  const middles = [0, 1, 2, 3].map((i) => [(width / 4) * (1 + 2 * (i % 2)), (height / 4) * (i < 2 ? 1 : 3)]);
  colours.forEach((colour, i) => {
    context.fillStyle = colour;
    context.fillRect(
      ...([middles[i][0] - width / 4, middles[i][1] - height / 4] as const),
      width / 2,
      height / 2,
    );
  });
  const { port1, port2 } = new MessageChannel();
  const packets: EncodedVideoChunk[] = [];
  let description: Uint8Array | undefined;
  port2.onmessage = ({ data }: MessageEvent<ToUplinkPort>) => {
    if (data.type === 'config') description = data.config.codecConfig;
    if (data.type !== 'packet') return;
    const { keyframe, timestampUs, payload } = data.packet;
    packets.push(
      new EncodedVideoChunk({ type: keyframe ? 'key' : 'delta', timestamp: timestampUs, data: payload }),
    );
  };
  const plan = {
    codec: 'avc1.64001e',
    width,
    height,
    fps: 30,
    kbps: 1500,
    keyframeSeconds: 2,
    effort: 'quick',
    encoder: 'any',
    colour: USUAL_COLOUR,
  } as const;
  let failure = '';
  const encoder = new PictureEncoder(plan, port1, (message) => (failure = message));
  encoder.cut();
  const count = 8;
  const pause = () => new Promise((resolve) => setTimeout(resolve, 20));
  for (let i = 0; i < count && !failure;)
    if (encoder.add(canvas, i) === 'encoded') i += 1;
    else await pause();
  for (let i = 0; i < 500 && packets.length < count - 2 && !failure; i++) await pause();
  const { softened } = encoder.report();
  encoder.close();
  const pictures: { size: number[]; quarters: number[][] }[] = [];
  const decoder = new VideoDecoder({
    output: (frame) => {
      const { displayWidth, displayHeight } = frame;
      const seen = clearCanvas(displayWidth, displayHeight).context;
      seen.drawImage(frame, 0, 0);
      frame.close();
      pictures.push({
        size: [displayWidth, displayHeight],
        quarters: middles.map(([x, y]) => [...seen.getImageData(x, y, 1, 1).data.subarray(0, 3)]),
      });
    },
    error: (error) => (failure = error.message),
  });
  decoder.configure({ codec: plan.codec, ...(description && { description }) });
  for (const packet of packets) decoder.decode(packet);
  await decoder.flush();
  if (failure) throw new Error(failure);
  return { pictures, softened };
}

function clearCanvas(width: number, height: number): { canvas: OffscreenCanvas; context: DrawContext } {
  const canvas = new OffscreenCanvas(width, height);
  return { canvas, context: canvas.getContext('2d', { willReadFrequently: true })! };
}
