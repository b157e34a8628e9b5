/** The stage's thread: paces it by its own timer, and sleeps through what timers cannot. */
import type { ToStage } from '../../protocol/engine';
import { systemClock } from '../system-clock';
import { workerScope } from '../worker-scope';
import { Stage } from './stage';

/** Timers come up to so much too early, or not before 4 ms: the rest is slept through. */
const SLEPT_MS = 3;

const stage = new Stage(systemClock, {
  tell: (message) => workerScope.postMessage(message),
  fonts: workerScope.fonts,
});
const sleeping = new Int32Array(new SharedArrayBuffer(4));
const turn = new MessageChannel();

function schedule(): void {
  const wait = stage.waitMs;
  // Timers within timers wait 4 ms at least: too long for what is due at once.
  if (wait <= SLEPT_MS) turn.port2.postMessage(null);
  else systemClock.after(wait, () => void tick());
}

async function tick(): Promise<void> {
  const early = stage.waitMs;
  if (early > 0 && early <= SLEPT_MS) Atomics.wait(sleeping, 0, 0, early);
  await stage.tick();
  schedule();
}

turn.port1.onmessage = () => void tick();
stage.onReady = schedule;
workerScope.onmessage = ({ data }: MessageEvent<ToStage>) => stage.take(data);
