/** A made-up line for tests: a queue that drains at a rate that changes by script. Used by tests only. */
import { LineController, type LineVerdict } from './line-controller';
import { OutQueue, type Waiting } from './out-queue';

export interface LineScript {
  /** Kbps the line carries at a moment, 0 for an outage. */
  kbpsAt: (seconds: number) => number;
  /** Share of packets lost: each costs a round trip's pause. */
  loss: number;
  roundTripMs: number;
}

export interface LineRun {
  /** Seconds the viewer's player stood still, with two seconds of buffer. */
  stalledSeconds: number;
  meanKbps: number;
  /** Mean of what the line would have carried, up to the plan. */
  possibleKbps: number;
  /** What was asked of the encoder, each tenth of a second. */
  asked: number[];
  dropped: number;
}

interface Picture extends Waiting {
  stampMs: number;
}

const TICK_MS = 20;
const FPS = 30;
const GROUP = 60;
const WINDOW_MS = 350;
const BUFFER_MS = 2000;

/** Runs an encoder that follows the controller over the line, with the drop policy in front of it. */
export function runLine(
  planKbps: number,
  seconds: number,
  script: LineScript,
  random: () => number,
): LineRun {
  const controller = new LineController(planKbps);
  const queue = new OutQueue<Picture>();
  const way: { bytes: number; item: Picture; handedMs: number }[] = [];
  const asked: number[] = [];
  let verdict: LineVerdict = controller.verdict;
  let encoderKbps = planKbps;
  let delivered = 0;
  let inKernel = 0;
  let credit = 0;
  let pauseUntil = 0;
  let picture = 0;
  let possible = 0;
  // The viewer: plays what has arrived, from a first buffer on.
  let stalledMs = 0;
  let playheadMs: number | null = null;
  let newestMs = 0;
  let broken = false;
  for (let ms = 0; ms < seconds * 1000; ms += TICK_MS) {
    const carries = script.kbpsAt(ms / 1000);
    possible += Math.min(carries, planKbps);
    // The encoder follows within a third of a second.
    encoderKbps += (Math.min(verdict.kbps, planKbps) - encoderKbps) * 0.08;
    while ((picture * 1000) / FPS <= ms) {
      const key = picture % GROUP === 0;
      const share = (encoderKbps * 125) / FPS;
      queue.push(
        {
          kind: 'video',
          keyframe: key,
          bytes: Math.round(share * (key ? 4 : 0.95) * (0.8 + 0.4 * random())),
          stampMs: (picture * 1000) / FPS,
        },
        ms,
      );
      picture += 1;
    }
    const window = Math.max(48 * 1024, (planKbps * (WINDOW_MS + 1.5 * controller.floorMs)) / 8);
    for (let item = queue.take(window - inKernel); item; item = queue.take(window - inKernel)) {
      way.push({ bytes: item.bytes, item, handedMs: ms });
      inKernel += item.bytes;
    }
    if (random() < script.loss * (TICK_MS / 20)) pauseUntil = ms + script.roundTripMs;
    if (ms >= pauseUntil) credit = Math.min(credit + (carries * TICK_MS) / 8, (carries * 100) / 8);
    while (way.length > 0 && credit > 0) {
      const part = Math.min(credit, way[0].bytes);
      way[0].bytes -= part;
      credit -= part;
      delivered += part;
      inKernel -= part;
      if (way[0].bytes > 0) break;
      const { item } = way.shift()!;
      // A picture counts when nothing before it in its group is missing; the queue sees to that.
      newestMs = item.stampMs;
      broken = false;
    }
    if (way.length === 0) credit = Math.min(credit, (carries * TICK_MS) / 8);
    if (playheadMs === null) {
      if (newestMs >= BUFFER_MS) playheadMs = 0;
    } else if (playheadMs + TICK_MS <= newestMs && !broken) playheadMs += TICK_MS;
    else {
      stalledMs += TICK_MS;
      broken = true;
    }
    if (ms % 100 === 0) {
      queue.dropStale(ms);
      verdict = controller.sample({
        atMs: ms,
        deliveredBytes: delivered,
        waitingMs: Math.max(queue.ageMs(ms), way.length === 0 ? 0 : ms - way[0].handedMs),
        waitingBytes: inKernel + queue.bytes,
      });
      asked.push(verdict.kbps);
    }
  }
  return {
    stalledSeconds: stalledMs / 1000,
    meanKbps: (delivered * 8) / (seconds * 1000),
    possibleKbps: possible / ((seconds * 1000) / TICK_MS),
    asked,
    dropped: queue.droppedPictures,
  };
}
