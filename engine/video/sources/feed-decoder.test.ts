import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { FeedPart } from '../../../core/media/feed-tags';
import { FeedDecoder } from './feed-decoder';

/** Decoders as WebCodecs has them, of which a test says what they can do. */
let opened: FakeDecoder[] = [];
let decodes = true;
class FakeDecoder {
  state = 'unconfigured';
  taken: { type: string; timestamp: number }[] = [];
  constructor(readonly init: { output: (out: unknown) => void; error: (error: Error) => void }) {
    opened.push(this);
  }
  configure(): void {
    this.state = 'configured';
    if (!decodes) queueMicrotask(() => this.fail());
  }
  fail(): void {
    this.state = 'closed';
    this.init.error(new Error('no such profile'));
  }
  decode(chunk: { type: string; timestamp: number }): void {
    this.taken.push(chunk);
  }
  close(): void {
    this.state = 'closed';
  }
}

beforeEach(() => {
  opened = [];
  decodes = true;
  vi.stubGlobal('VideoDecoder', FakeDecoder);
  vi.stubGlobal('AudioDecoder', FakeDecoder);
  const chunk = class {
    constructor(init: object) {
      Object.assign(this, init);
    }
  };
  vi.stubGlobal('EncodedVideoChunk', chunk);
  vi.stubGlobal('EncodedAudioChunk', chunk);
});
afterEach(() => vi.unstubAllGlobals());

const videoConfig: FeedPart = { type: 'videoConfig', config: new Uint8Array([1, 0x64, 0, 30, 255, 225, 0]) };
// AAC-LC, 44.1 kHz, stereo.
const audioConfig: FeedPart = { type: 'audioConfig', config: new Uint8Array([0x12, 0x10]) };
const picture = (seconds: number, keyframe = false): FeedPart => ({
  type: 'picture',
  keyframe,
  seconds,
  data: new Uint8Array(4),
});
const sound = (seconds: number): FeedPart => ({ type: 'sound', seconds, data: new Uint8Array(4) });
const said: [string, string][] = [];
const decoderOf = () => {
  said.length = 0;
  const frames: unknown[] = [];
  const decoder = new FeedDecoder({
    picture: (frame) => frames.push(frame),
    sound: () => {},
    problem: (kind, text) => said.push([kind, text]),
  });
  return { decoder, frames };
};
/** Ten seconds at 25 pictures and 43 sounds a second, a keyframe each second. */
async function feed(decoder: FeedDecoder, from = 0): Promise<void> {
  for (let i = 0; i < 250; i++) {
    decoder.take(picture(from + i / 25, i % 25 === 0));
    decoder.take(sound(from + i / 25));
    decoder.take(sound(from + i / 25 + 0.02));
    await Promise.resolve();
  }
}

describe('a feed that cannot be decoded', () => {
  test('opens no more than one decoder a second of each kind, and says why', async () => {
    decodes = false;
    const { decoder } = decoderOf();
    decoder.take(videoConfig);
    decoder.take(audioConfig);
    await feed(decoder);
    expect(opened.length).toBeGreaterThan(10);
    expect(opened.length).toBeLessThanOrEqual(20);
    expect(said).toContainEqual(['video', expect.stringMatching(/no such profile.*H\.264 in 8 bits/)]);
    expect(said).toContainEqual(['audio', expect.stringMatching(/send AAC-LC/)]);
  });

  test('is tried at once when it describes itself anew, or begins from its beginning', async () => {
    decodes = false;
    const { decoder } = decoderOf();
    decoder.take(videoConfig);
    decoder.take(picture(100, true));
    await Promise.resolve();
    decodes = true;
    decoder.take(picture(100.1, true));
    expect(opened).toHaveLength(1);
    decoder.take(videoConfig);
    decoder.take(picture(100.2, true));
    expect(opened).toHaveLength(2);
    opened[1].fail();
    decoder.take(picture(0, true));
    expect(opened).toHaveLength(3);
  });

  test.each([
    ['video', { type: 'videoConfig', config: new Uint8Array([9, 9]) }, picture(0, true)],
    ['audio', { type: 'audioConfig', config: new Uint8Array([0xff]) }, sound(0)],
  ] as const)('with a broken description of its %s is told, not thrown', (kind, config, part) => {
    const { decoder } = decoderOf();
    decoder.take(config);
    decoder.take(part);
    expect(said).toEqual([[kind, expect.stringContaining('description is broken')]]);
    expect(opened).toEqual([]);
  });
});

test('decoding begins at a keyframe, and after a failure at the next one', async () => {
  const { decoder, frames } = decoderOf();
  decoder.take(picture(0, true));
  expect(opened).toEqual([]);
  decoder.take(videoConfig);
  decoder.take(picture(0.04));
  expect(opened).toEqual([]);
  decoder.take(picture(1, true));
  decoder.take(picture(1.04));
  expect(opened[0].taken.map(({ type }) => type)).toEqual(['key', 'delta']);
  opened[0].init.output('one');
  expect(frames).toEqual(['one']);
  opened[0].fail();
  decoder.take(picture(1.08));
  decoder.take(picture(1.12));
  expect(opened).toHaveLength(1);
  decoder.take(picture(2, true));
  decoder.take(picture(2.04));
  expect(opened[1].taken.map(({ type }) => type)).toEqual(['key', 'delta']);
  // What the old one still brings out is closed.
  const close = vi.fn();
  opened[0].init.output({ close });
  expect(close).toHaveBeenCalled();
  decoder.reset();
  expect(opened[1].state).toBe('closed');
  decoder.take(picture(2.08));
  decoder.take(picture(3, true));
  expect(opened[2].taken.map(({ type }) => type)).toEqual(['key']);
});
