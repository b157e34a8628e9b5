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

/**
 * Looks through a clip, with progress.
 * @throws Error with words for the user when it cannot be played here
 */
export async function measureStinger(
  url: string,
  onProgress: (share: number) => void,
): Promise<StingerFacts> {
  const video = document.createElement('video');
  video.muted = true;
  video.preload = 'auto';
  video.src = url;
  try {
    await happened(video, 'loadeddata');
    const { videoWidth, duration: seconds } = video;
    if (!(videoWidth > 0) || !Number.isFinite(seconds) || seconds <= 0)
      throw new Error('it has no picture, or no length: export it again');
    const context = new OffscreenCanvas(W, H).getContext('2d', { willReadFrequently: true })!;
    const least: number[] = [];
    for (let i = 0; i < SAMPLES; i++) {
      const sought = happened(video, 'seeked');
      video.currentTime = Math.min(seconds - 0.001, ((i + 0.5) * seconds) / SAMPLES);
      await sought;
      context.clearRect(0, 0, W, H);
      context.drawImage(video, 0, 0, W, H);
      const { data } = context.getImageData(0, 0, W, H);
      least.push(data.reduce((low, v, at) => (at % 4 === 3 ? Math.min(low, v) : low), 255));
      onProgress((i + 1) / SAMPLES);
    }
    return { seconds, ...coverOf(least, seconds), sounds: await hasSound(url) };
  } finally {
    video.removeAttribute('src');
    video.load();
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
