import { carriedBy, type Carried } from '~/core/delivery/carried';
import type { Encode } from '~/core/delivery/encodes';
import { PLAIN_PLAN } from '~/core/delivery/settings';
import { encodePlans } from '~/engine/encode/encode-plans';
import type { Desk } from '~/engine/desk.client';
import type { FromTrial, ToTrial, TrialWay } from '~/protocol/engine';

const TRIAL_KBPS = 3000;
/** Video frames that are tried at each size: most of a second. */
const PICTURES = 20;
const SIZES = [
  { width: 1280, height: 720 },
  { width: 960, height: 540 },
  { width: 640, height: 360 },
] as const;

/**
 * Encodes what is on air now at some sizes, on the processor, and says what this computer carries. It takes some seconds.
 *
 * @param pixels of all frames that are composed now
 * @param signal ends it early
 * @returns null when it could not be measured here
 */
export async function measureComputer(
  desk: Desk,
  pixels: number,
  signal: AbortSignal,
): Promise<Carried | null> {
  const ways: TrialWay[] = [];
  for (const size of SIZES) {
    const encode: Encode = {
      ...{ id: 'wide', frame: 'wide', ...size, videoKbps: TRIAL_KBPS },
      ...{ destinationIds: [], reencoded: [], because: '' },
    };
    const [{ plan }] = await encodePlans(PLAIN_PLAN, [encode]);
    ways.push({ name: `${size.width}`, plan: { ...plan, encoder: 'cpu' } });
  }
  const trial = new Worker(new URL('../../engine/encode/trial.worker.ts', import.meta.url), {
    type: 'module',
    name: 'trial',
  });
  try {
    const results = await new Promise<FromTrial['results']>((resolve, reject) => {
      signal.addEventListener('abort', () => reject(new Error('ended early')));
      trial.onmessage = ({ data }: MessageEvent<FromTrial>) => {
        if (data.done) resolve(data.results);
      };
      trial.onerror = (event) => reject(new Error(event.message));
      const port = desk.tap('wide', PICTURES);
      trial.postMessage({ ways, port } satisfies ToTrial, [port]);
    });
    const trials = results.map(({ msPerPicture, problem }, i) => ({
      ...SIZES[i],
      msPerPicture: problem === '' ? msPerPicture : 0,
    }));
    return carriedBy(trials, { ms: desk.snapshot().stage?.composeMs ?? 0, pixels });
  } finally {
    trial.terminate();
  }
}
