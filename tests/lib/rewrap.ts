import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { FromRewrap, RewrapWork } from '../../server/vault/rewrap-orders';

const SCRIPT = path.resolve(import.meta.dirname, '../../build/server/rewrap.mjs');

/** Makes a copy as the Vault does. @returns the last word of the thread that does it */
export function rewrap(
  part: Pick<RewrapWork, 'from' | 'file' | 'to'> & Partial<RewrapWork>,
): Promise<FromRewrap> {
  return new Promise((resolve, reject) => {
    const work: RewrapWork = { fromSeconds: null, toSeconds: null, ...part };
    const worker = new Worker(SCRIPT, { workerData: work });
    worker.on('error', reject);
    worker.on('message', (message: FromRewrap) => {
      if (message.type === 'done' || message.type === 'failed') resolve(message);
    });
  });
}
