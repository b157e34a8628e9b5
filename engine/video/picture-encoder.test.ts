import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { USUAL_COLOUR } from '../../core/media/avc-colour';
import { PictureEncoder } from './picture-encoder';

/** An encoder that takes what it is given and is as far behind as a test says. */
class SlowEncoder {
  static last: SlowEncoder;
  static all: SlowEncoder[] = [];
  state = 'unconfigured';
  encodeQueueSize = 0;
  readonly keyframesAt: number[] = [];
  readonly given: number[] = [];

  constructor() {
    SlowEncoder.last = this;
    SlowEncoder.all.push(this);
  }
  configure() {
    this.state = 'configured';
  }
  encode({ timestamp }: { timestamp: number }, { keyFrame }: { keyFrame: boolean }) {
    this.given.push(timestamp);
    if (keyFrame) this.keyframesAt.push(timestamp);
  }
  /** Ended by a test. */
  flushed: () => void = () => {};
  flush() {
    return new Promise<void>((resolve) => (this.flushed = resolve));
  }
  close() {
    this.state = 'closed';
  }
}

class Frame {
  readonly timestamp: number;
  constructor(_picture: unknown, { timestamp }: { timestamp: number }) {
    this.timestamp = timestamp;
  }
  close() {}
}

const PLAN = {
  ...{ codec: 'avc1.42001f', width: 320, height: 180, fps: 30, kbps: 600, keyframeSeconds: 2 },
  effort: 'quick' as const,
  encoder: 'any' as const,
  colour: USUAL_COLOUR,
};

beforeEach(() => {
  vi.stubGlobal('VideoEncoder', SlowEncoder);
  vi.stubGlobal('VideoFrame', Frame);
  // Softened pictures are drawn on canvases.
  const context = { drawImage() {} };
  vi.stubGlobal(
    'OffscreenCanvas',
    class {
      getContext = () => context;
    },
  );
});
afterEach(() => vi.unstubAllGlobals());

test('an encoder that is behind gets no more pictures, but each keyframe of the grid', () => {
  const { port1 } = new MessageChannel();
  const encoder = new PictureEncoder(PLAN, port1, () => {});
  const canvas = {} as OffscreenCanvas;
  const results = new Map<string, number>();
  for (let index = 100; index < 400; index++) {
    SlowEncoder.last.encodeQueueSize = index < 150 ? 0 : 7;
    const result = encoder.add(canvas, index);
    results.set(result, (results.get(result) ?? 0) + 1);
  }
  const first = SlowEncoder.last.keyframesAt[0];
  expect(SlowEncoder.last.keyframesAt.map((at) => (at - first) / 1e6)).toEqual([0, 2, 4, 6, 8]);
  expect(results.get('busy')).toBe(250 - 4);
  encoder.close();
});

test('of two changes at one keyframe the last waits until the first of all has given out everything', async () => {
  SlowEncoder.all = [];
  const [first, second, third] = [0, 1, 2].map(
    () => new PictureEncoder(PLAN, new MessageChannel().port1, () => {}),
  );
  const firstDone = first.retire();
  second.holdUntil(firstDone);
  let over = false;
  const secondDone = second.retire().then(() => void (over = true));
  third.holdUntil(secondDone);
  const turn = () => new Promise((resolve) => setTimeout(resolve));
  await turn();
  SlowEncoder.all[1].flushed();
  await turn();
  expect(over).toBe(false);
  SlowEncoder.all[0].flushed();
  await firstDone;
  await turn();
  SlowEncoder.all[1].flushed();
  await secondDone;
  third.close();
});
