/** What can be told about a clip that is to be a stinger. */
export interface StingerFacts {
  seconds: number;
  /** Middle of the longest stretch in which no point is transparent, seconds; null when there is none. */
  coverSeconds: number | null;
  /** Whether anything of it is transparent at any time. */
  clear: boolean;
  sounds: boolean;
}

const SAMPLES = 48;
/** Points looked at in each picture: a gap smaller than a thirty-second of the width is not found. */
const [W, H] = [32, 18];
/** Codecs leave a little transparency where there was none. */
const OPAQUE = 248;

/** The opacity of a clip's most transparent point (0…255) at evenly spread moments, and its length. */
type Looked = { seconds: number; least: number[] };

/**
 * Looks through a clip, with progress.
 * @param mime what the file is
 * @throws Error with words for the user when it cannot be played here
 */
export async function measureStinger(
  url: string,
  mime: string,
  onProgress: (share: number) => void,
): Promise<StingerFacts> {
  const moves = mime.startsWith('image/');
  const vector = mime === 'application/lottie+json';
  const look = vector ? lookAtLottie : moves ? lookAtPicture : lookAtVideo;
  const { seconds, least } = await look(url, mime, onProgress);
  return { seconds, ...coverOf(least, seconds), sounds: !moves && !vector && (await hasSound(url)) };
}

function pencil(): OffscreenCanvasRenderingContext2D {
  return new OffscreenCanvas(W, H).getContext('2d', { willReadFrequently: true })!;
}

function leastOf(context: OffscreenCanvasRenderingContext2D, picture: CanvasImageSource): number {
  context.clearRect(0, 0, W, H);
  context.drawImage(picture, 0, 0, W, H);
  const { data } = context.getImageData(0, 0, W, H);
  return data.reduce((low, v, at) => (at % 4 === 3 ? Math.min(low, v) : low), 255);
}

const momentOf = (i: number, seconds: number) => ((i + 0.5) * seconds) / SAMPLES;

async function lookAtVideo(url: string, _mime: string, onProgress: (share: number) => void): Promise<Looked> {
  const video = document.createElement('video');
  video.muted = true;
  video.preload = 'auto';
  video.src = url;
  try {
    await happened(video, 'loadeddata');
    const { videoWidth, duration: seconds } = video;
    if (!(videoWidth > 0) || !Number.isFinite(seconds) || seconds <= 0)
      throw new Error('it has no picture, or no length: export it again');
    const context = pencil();
    const least: number[] = [];
    for (let i = 0; i < SAMPLES; i++) {
      const sought = happened(video, 'seeked');
      video.currentTime = Math.min(seconds - 0.001, momentOf(i, seconds));
      await sought;
      least.push(leastOf(context, video));
      onProgress((i + 1) / SAMPLES);
    }
    return { seconds, least };
  } finally {
    video.removeAttribute('src');
    video.load();
  }
}

/** An animated picture: its frames have lengths of their own. */
async function lookAtPicture(
  url: string,
  mime: string,
  onProgress: (share: number) => void,
): Promise<Looked> {
  const data = await (await fetch(url)).arrayBuffer();
  const decoder = new ImageDecoder({ type: mime === 'image/apng' ? 'image/png' : mime, data });
  try {
    await decoder.tracks.ready;
    await decoder.completed;
    const count = decoder.tracks.selectedTrack?.frameCount ?? 1;
    if (count < 2) throw new Error('it does not move: a stinger is a clip or an animated picture');
    const context = pencil();
    const frames: { until: number; least: number }[] = [];
    let seconds = 0;
    for (let frameIndex = 0; frameIndex < count; frameIndex++) {
      const { image } = await decoder.decode({ frameIndex });
      // As long as it is shown on air (PictureFileSource).
      const length = (image.duration ?? 0) / 1e6;
      seconds += length > 0.005 ? length : 0.1;
      frames.push({ until: seconds, least: leastOf(context, image) });
      image.close();
      onProgress((frameIndex + 1) / count);
    }
    const least = Array.from({ length: SAMPLES }, (_, i) => {
      const at = momentOf(i, seconds);
      return frames.find((f) => at < f.until)?.least ?? 0;
    });
    return { seconds, least };
  } finally {
    decoder.close();
  }
}

async function lookAtLottie(
  url: string,
  _mime: string,
  onProgress: (share: number) => void,
): Promise<Looked> {
  const { LottieSource } = await import('~/engine/video/sources/lottie-source');
  const source = new LottieSource(url, false, 1);
  try {
    while (source.state === 'waiting') await new Promise((resolve) => setTimeout(resolve, 20));
    if (source.state === 'failed') throw new Error(source.message);
    const whole = { x: 0, y: 0, width: source.width, height: source.height };
    const canvas = new OffscreenCanvas(W, H);
    const painted = canvas.getContext('2d', { willReadFrequently: true })!;
    const context = pencil();
    source.restart(0);
    const least: number[] = [];
    for (let i = 0; i < SAMPLES; i++) {
      source.advance(momentOf(i, source.seconds));
      painted.clearRect(0, 0, W, H);
      source.draw(painted, whole, W, H);
      least.push(leastOf(context, canvas));
      onProgress((i + 1) / SAMPLES);
    }
    return { seconds: source.seconds, least };
  } finally {
    source.close();
  }
}

/** @param least opacity of the most transparent point at evenly spread moments, 0…255 */
export function coverOf(
  least: readonly number[],
  seconds: number,
): Pick<StingerFacts, 'coverSeconds' | 'clear'> {
  let best: { from: number; length: number } | null = null;
  let from = 0;
  least.forEach((v, i) => {
    if (v < OPAQUE) from = i + 1;
    else if (i + 1 - from > (best?.length ?? 0)) best = { from, length: i + 1 - from };
  });
  const found = best as { from: number; length: number } | null;
  return {
    clear: least.some((v) => v < OPAQUE),
    coverSeconds: found && ((found.from + found.length / 2) * seconds) / least.length,
  };
}

function happened(video: HTMLVideoElement, event: 'loadeddata' | 'seeked'): Promise<void> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(
      () => reject(new Error('the browser does not get through it: is the file damaged?')),
      8000,
    );
    const done = (then: () => void) => () => {
      clearTimeout(timer);
      then();
    };
    video.addEventListener(event, done(resolve), { once: true });
    video.addEventListener(
      'error',
      done(() => reject(new Error('the browser cannot decode it: export it as VP9 or AV1 in WebM'))),
      { once: true },
    );
  });
}

async function hasSound(url: string): Promise<boolean> {
  const bytes = await (await fetch(url)).arrayBuffer();
  try {
    const context = new OfflineAudioContext(1, 1, 48_000);
    return (await context.decodeAudioData(bytes)).length > 0;
  } catch {
    // A clip without sound cannot be decoded as sound.
    return false;
  }
}
