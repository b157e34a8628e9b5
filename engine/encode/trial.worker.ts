/** Tries ways of encoding on the pictures of the running scene: what each costs here and how good it looks. */
import { encoderConfig } from './encoder-config';
import { systemClock } from '../system-clock';
import type { FromTrial, ToTrial, TrialResult, TrialWay } from '../../protocol/engine';
import { workerScope } from '../worker-scope';

/** Pictures whose quality is measured: every so many. */
const JUDGE_EVERY = 5;

function brightness(canvas: OffscreenCanvas, frame: CanvasImageSource): Float32Array {
  const { width, height } = canvas;
  const context = canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
  context.drawImage(frame, 0, 0, width, height);
  const { data } = context.getImageData(0, 0, width, height);
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++)
    out[i] = data[i * 4] * 0.2126 + data[i * 4 + 1] * 0.7152 + data[i * 4 + 2] * 0.0722;
  return out;
}

/** Peak signal-to-noise ratio, dB; at most 60 for equal pictures. */
function psnr(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i] - b[i]) ** 2;
  const mse = sum / a.length;
  return mse === 0 ? 60 : Math.min(60, 10 * Math.log10(255 ** 2 / mse));
}

async function tryWay(way: TrialWay, frames: readonly VideoFrame[]): Promise<TrialResult> {
  const { plan, name } = way;
  const { codec, width, height, fps } = plan;
  const config: VideoEncoderConfig = { ...encoderConfig(plan), avc: { format: 'annexb' } };
  const none = { name, msPerPicture: 0, kbps: 0, psnrDb: 0 };
  const { supported } = await VideoEncoder.isConfigSupported(config).catch(() => ({ supported: false }));
  if (!supported) return { ...none, problem: 'not offered on this machine' };
  const chunks: EncodedVideoChunk[] = [];
  let failure = '';
  const encoder = new VideoEncoder({
    output: (chunk) => chunks.push(chunk),
    error: (error) => (failure = error.message),
  });
  encoder.configure(config);
  const started = systemClock.nowMs();
  for (const [i, frame] of frames.entries()) {
    const timestamp = Math.round((i * 1e6) / fps);
    const own = new VideoFrame(frame, { timestamp });
    encoder.encode(own, { keyFrame: i === 0 });
    own.close();
  }
  await encoder.flush();
  const ms = systemClock.nowMs() - started;
  encoder.close();
  if (failure) return { ...none, problem: failure };
  const bytes = chunks.reduce((sum, c) => sum + c.byteLength, 0);
  const canvas = new OffscreenCanvas(width, height);
  const values: number[] = [];
  let index = 0;
  const decoder = new VideoDecoder({
    output: (picture) => {
      if (index % JUDGE_EVERY === 0 && frames[index])
        values.push(psnr(brightness(canvas, frames[index]), brightness(canvas, picture)));
      index += 1;
      picture.close();
    },
    error: (error) => (failure = error.message),
  });
  decoder.configure({ codec, codedWidth: width, codedHeight: height });
  for (const chunk of chunks) decoder.decode(chunk);
  await decoder.flush();
  decoder.close();
  if (failure || values.length === 0) return { ...none, problem: failure || 'could not be read again' };
  return {
    name,
    msPerPicture: ms / frames.length,
    kbps: (bytes * 8 * fps) / 1000 / frames.length,
    psnrDb: values.reduce((sum, v) => sum + v, 0) / values.length,
    problem: '',
  };
}

workerScope.onmessage = ({ data: { ways, port } }: MessageEvent<ToTrial>) => {
  const frames: VideoFrame[] = [];
  port.onmessage = async ({ data }: MessageEvent<VideoFrame | null>) => {
    if (data) return void frames.push(data);
    const results: TrialResult[] = [];
    for (const way of ways) {
      results.push(
        await tryWay(way, frames).catch((error: unknown) => ({
          name: way.name,
          msPerPicture: 0,
          kbps: 0,
          psnrDb: 0,
          problem: error instanceof Error ? error.message : String(error),
        })),
      );
      workerScope.postMessage({
        results: [...results],
        done: results.length === ways.length,
      } satisfies FromTrial);
    }
    for (const frame of frames) frame.close();
  };
};
