import { colourByBrightness, type StreamColour } from '../../core/media/avc-colour';

/** By what was asked of the encoder: it does not change while a page is open. */
const known = new Map<string, Promise<StreamColour | null>>();

/**
 * How this browser's encoder makes planes out of a canvas, measured; null where that cannot be read here. Software encodes a
 * canvas in full range and says so; a chip, or the next version of a browser, need not do either, and a stream that says
 * nothing, or another thing than it is, shows black as grey somewhere.
 */
export function planeColour(config: VideoEncoderConfig): Promise<StreamColour | null> {
  const key = [config.codec, config.width, config.height, config.hardwareAcceleration].join();
  let colour = known.get(key);
  if (!colour) {
    colour = measured(config).catch(() => null);
    known.set(key, colour);
  }
  return colour;
}

async function measured(config: VideoEncoderConfig): Promise<StreamColour> {
  const { width, height } = config;
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { alpha: false })!;
  context.fillStyle = '#ffffff';
  context.fillRect(0, 0, width, height);
  context.fillStyle = '#ff0000';
  context.fillRect(width / 2, 0, width, height);
  const { chunk, description } = await encoded(canvas, config);
  const picture = await decoded(chunk, {
    codec: config.codec,
    codedWidth: width,
    codedHeight: height,
    description,
  });
  try {
    const { format } = picture;
    if (format !== 'I420' && format !== 'NV12') throw new Error(`planes of ${format} cannot be read`);
    const bytes = new Uint8Array(picture.allocationSize());
    const [{ offset, stride }] = await picture.copyTo(bytes);
    const at = (share: number) => bytes[offset + Math.floor(height / 2) * stride + Math.floor(width * share)];
    return colourByBrightness(at(0.25), at(0.75));
  } finally {
    picture.close();
  }
}

function encoded(
  canvas: OffscreenCanvas,
  config: VideoEncoderConfig,
): Promise<{ chunk: EncodedVideoChunk; description: AllowSharedBufferSource | undefined }> {
  return new Promise((resolve, reject) => {
    const encoder = new VideoEncoder({
      output: (chunk, meta) => resolve({ chunk, description: meta?.decoderConfig?.description }),
      error: reject,
    });
    encoder.configure(config);
    const frame = new VideoFrame(canvas, { timestamp: 0 });
    encoder.encode(frame, { keyFrame: true });
    frame.close();
    encoder
      .flush()
      .then(() => encoder.close())
      .catch(reject);
  });
}

function decoded(chunk: EncodedVideoChunk, config: VideoDecoderConfig): Promise<VideoFrame> {
  return new Promise((resolve, reject) => {
    const decoder = new VideoDecoder({ output: resolve, error: reject });
    decoder.configure(config);
    decoder.decode(chunk);
    decoder
      .flush()
      .then(() => decoder.close())
      .catch(reject);
  });
}
