import { assetUrl } from '../asset-url';
import type { FromOpenings, ToOpenings } from '../../protocol/engine';

/** The openings of a stored picture. A worker of its own does the search and is gone afterwards. */
export function findOpeningsOf(assetId: string): Promise<FromOpenings> {
  const worker = new Worker(new URL('./opening.worker.ts', import.meta.url), {
    type: 'module',
    name: 'opening',
  });
  return new Promise<FromOpenings>((resolve) => {
    worker.onmessage = ({ data }: MessageEvent<FromOpenings>) => resolve(data);
    worker.onerror = (event) => resolve({ problem: event.message });
    worker.postMessage({
      url: assetUrl(assetId),
    } satisfies ToOpenings);
  }).finally(() => worker.terminate());
}
