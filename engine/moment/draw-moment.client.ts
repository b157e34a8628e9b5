import type { FromMoment, ToMoment } from '../../protocol/engine';

/** A moment of a broadcast as a picture. A worker of its own draws it and is gone afterwards, also when it is not wanted any more. */
export async function drawMoment(order: ToMoment, signal: AbortSignal): Promise<FromMoment> {
  const worker = new Worker(new URL('./moment.worker.ts', import.meta.url), {
    type: 'module',
    name: 'moment',
  });
  try {
    return await new Promise<FromMoment>((resolve) => {
      worker.onmessage = ({ data }: MessageEvent<FromMoment>) => resolve(data);
      worker.onerror = (event) => resolve({ problem: event.message });
      signal.addEventListener('abort', () => resolve({ problem: 'not wanted any more' }));
      worker.postMessage(order);
    });
  } finally {
    worker.terminate();
  }
}
