import {
  computerMeasure,
  MEASURED_SIZES,
  type ComputerMeasure,
  type EncoderTrial,
} from '~/core/delivery/computer-measure';
import type { Encode } from '~/core/delivery/encodes';
import { PLAIN_PLAN } from '~/core/delivery/settings';
import { encodePlans } from '~/engine/encode/encode-plans';
import type { Desk } from '~/engine/desk.client';
import type { FromTrial, ToTrial, TrialWay } from '~/protocol/engine';

const TRIAL_KBPS = 3000;
/** Video frames that are tried in each way: most of a second. */
const PICTURES = 20;

/** What of it: `quick` leaves out the largest size and the graphics chip, where somebody waits for a first plan. */
type Extent = 'quick' | 'whole';

async function waysOf(extent: Extent): Promise<(TrialWay & Omit<EncoderTrial, 'msPerPicture'>)[]> {
  const ways = [];
  for (const size of extent === 'whole' ? MEASURED_SIZES : MEASURED_SIZES.slice(1)) {
    const encode: Encode = {
      ...{ id: 'wide', frame: 'wide', ...size, videoKbps: TRIAL_KBPS },
      ...{ destinationIds: [], reencoded: [], because: '' },
    };
    const [{ plan }] = await encodePlans(PLAIN_PLAN, [encode]);
    for (const encoder of extent === 'whole' ? (['cpu', 'gpu'] as const) : (['cpu'] as const))
      ways.push({ name: `${size.width} ${encoder}`, plan: { ...plan, encoder }, encoder, ...size });
  }
  return ways;
}

/**
 * Encodes what is on air now at some sizes, and says what this computer carries. It takes some seconds.
 *
 * @param stop ends it early
 * @param progress 0…1
 * @returns null when it could not be measured here
 */
export async function measureComputer(
  desk: Desk,
  extent: Extent,
  stop: AbortSignal,
  progress: (share: number) => void = () => {},
): Promise<ComputerMeasure | null> {
  const ways = await waysOf(extent);
  const trial = new Worker(new URL('../../engine/encode/trial.worker.ts', import.meta.url), {
    type: 'module',
    name: 'trial',
  });
  try {
    const results = await new Promise<FromTrial['results']>((resolve, reject) => {
      const end = () => reject(new Error('ended early'));
      if (stop.aborted) return end();
      stop.addEventListener('abort', end);
      trial.onmessage = ({ data }: MessageEvent<FromTrial>) => {
        progress(data.results.length / ways.length);
        if (data.done) resolve(data.results);
      };
      trial.onerror = (event) => reject(new Error(event.message));
      const port = desk.tap('wide', PICTURES);
      trial.postMessage({ ways: ways.map(({ name, plan }) => ({ name, plan })), port } satisfies ToTrial, [
        port,
      ]);
    });
    const trials = results.map(({ msPerPicture, problem }, i): EncoderTrial => {
      const { width, height, encoder } = ways[i];
      return { width, height, encoder, msPerPicture: problem === '' ? msPerPicture : 0 };
    });
    // What was tried was drawn meanwhile, also where nobody looks at it.
    const draw = desk.snapshot().stage?.drawMsPerMegapixel ?? null;
    return computerMeasure(trials, draw, navigator.hardwareConcurrency, Date.now());
  } finally {
    trial.terminate();
  }
}
