/** The sound encoder's thread: encodes whenever there is sound, and stops when it is told to. */
import { messageOf } from '../../core/fault';
import { sleep } from '../../core/time/clock';
import type { FromSoundEncoder, ToSoundEncoder } from '../../protocol/engine';
import { systemClock } from '../system-clock';
import { workerScope } from '../worker-scope';
import { SoundEncoder } from './sound-encoder';

/** Between looks for sound: half of what one AAC frame lasts. */
const POLL_MS = 10;

const tell = (message: FromSoundEncoder) => workerScope.postMessage(message);

let run: { stop: () => Promise<void> } | null = null;

async function start({ sound, kbps, port, tracks }: Extract<ToSoundEncoder, { type: 'start' }>) {
  const onLost = (blocks: number) => tell({ type: 'lost', blocks });
  const onFailure = (message: string) => tell({ type: 'failed', message });
  const options = { sound, kbps, port, tracks, onLost, onFailure };
  const encoder = await SoundEncoder.open(systemClock, options);
  let running = true;
  const work = (async () => {
    while (running) if (!(await encoder.encodeNext())) await sleep(systemClock, POLL_MS);
  })();
  work.catch((error: unknown) => tell({ type: 'failed', message: messageOf(error) }));
  return {
    stop: async () => {
      running = false;
      await work.catch(() => undefined);
      await encoder.close();
    },
  };
}

workerScope.onmessage = async ({ data }: MessageEvent<ToSoundEncoder>) => {
  try {
    const before = run;
    run = null;
    await before?.stop();
    if (data.type === 'start') run = await start(data);
  } catch (error) {
    tell({ type: 'failed', message: `The sound encoder failed: ${messageOf(error)}` });
  }
};
