/** What the mixer makes of a show, offline: loudness, floor and spectrum by ffmpeg, mutes and offsets to the sample. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { PLAIN_CHANNEL, type AnyRecord, type ChannelRecord } from '../../core/show/records';
import { sampleScene, sampleShow } from '../../core/show/sample-show';
import { voiceChain, type ChainSettings } from '../../core/sound/chain/chain-settings';
import { DrivenSound, silentParts, writeHeard, type Heard } from '../lib/driven-sound';
import { floorDb, meanDb } from '../lib/sound-files';

const RATE = 48_000;
/** From a mute to silence below −80 dBFS, and back from it. */
const RAMP_SECONDS = 0.03;

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-driven-sound-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function channel(id: string, source: ChannelRecord['source'], more: Partial<ChannelRecord> = {}): AnyRecord {
  return {
    ...{ kind: 'channel', id, showId: 'show', name: id, position: 0, source },
    ...PLAIN_CHANNEL,
    gainDb: 0,
    ...more,
  };
}
const music = (more: Partial<ChannelRecord> = {}) =>
  channel('music', { type: 'simulated', sound: 'night-music' }, more);
const voice = (more: Partial<ChannelRecord> = {}) =>
  channel('voice', { type: 'simulated', sound: 'voice' }, { role: 'voice', ...more });
const file = (name: string, heard: Heard) => writeHeard(path.join(folder, `${name}.wav`), heard);
const peak = ({ left, right }: Heard) =>
  left.reduce((most, v, i) => Math.max(most, Math.abs(v), Math.abs(right[i])), 0);

describe('a voice chain', () => {
  /** The first 13 s of the made-up voice's round: talk, and two seconds of its room's noise at the end. */
  const part = (name: string, chain: ChainSettings | null) => {
    const sound = new DrivenSound([sampleShow, voice(chain ? { chain } : {})]);
    return file(name, sound.render(13)[0]);
  };
  let ids = 0;
  const five = () => voiceChain(() => `p${(ids += 1)}`);

  test('changes loudness, floor and spectrum as its values say', () => {
    const bare = part('bare', null);
    const chain = five();
    const shaped = part('shaped', {
      ...chain,
      processors: chain.processors.map((processor) => {
        if (processor.type === 'compressor')
          return { ...processor, values: { ...processor.values, makeUpDb: 16 } };
        if (processor.type === 'equaliser')
          return {
            ...processor,
            bands: [
              ...processor.bands,
              { on: true, shape: 'low-pass' as const, frequencyHz: 1000, gainDb: 0, q: 0.707 },
            ],
          };
        return processor;
      }),
    });
    expect(meanDb(shaped) - meanDb(bare)).toBeGreaterThan(4);
    // Sixteen decibels more lift a floor that nothing holds down; the gate closes on it.
    expect(floorDb(bare)).toBeGreaterThan(-75);
    expect(floorDb(bare) - floorDb(shaped)).toBeGreaterThan(20);
    const treble = { filter: 'highpass=f=4000,highpass=f=4000' };
    const bass = { filter: 'lowpass=f=600' };
    const tilt = (wave: string) => meanDb(wave, treble) - meanDb(wave, bass);
    expect(tilt(bare) - tilt(shaped)).toBeGreaterThan(12);
  });

  test('without its gate the floor rises by the make-up; bypassed it is as without', () => {
    const bare = part('plain', null);
    const chain = five();
    const open = part('open', {
      ...chain,
      processors: chain.processors
        .filter((p) => p.type === 'compressor')
        .map((p) => ({ ...p, values: { ...p.values, makeUpDb: 16 } }) as typeof p),
    });
    expect(Math.abs(floorDb(open) - floorDb(bare) - 16)).toBeLessThan(1);
    const bypassed = part('bypassed', { ...chain, bypassed: true });
    expect(Math.abs(meanDb(bypassed) - meanDb(bare))).toBeLessThan(0.2);
    expect(Math.abs(floorDb(bypassed) - floorDb(bare))).toBeLessThan(0.5);
  });
});

test('a fader moves its channel by as many decibels, and no other one', () => {
  const level = (gainDb: number) => {
    const sound = new DrivenSound([sampleShow, music({ gainDb, tracks: [1] }), voice({ tracks: [5] })]);
    const tracks = sound.render(4);
    return [meanDb(file('faded', tracks[0])), meanDb(file('other', tracks[4]))];
  };
  const [[plain, other], [faded, same]] = [level(0), level(-9)];
  expect(Math.abs(plain - faded - 9)).toBeLessThan(0.2);
  expect(same).toBe(other);
});

describe('mutes', () => {
  test('mute all is silence on every track, and comes back', () => {
    const sound = new DrivenSound([sampleShow, music({ tracks: [1, 2] })]);
    expect(peak(sound.render(1)[0])).toBeGreaterThan(0.02);
    sound.press({ allMuted: true });
    // What was in the alignment and the limiter goes out first.
    sound.render(0.3);
    const [programme, second] = sound.render(2);
    expect([peak(programme), peak(second)]).toEqual([0, 0]);
    sound.press({ allMuted: false });
    sound.render(0.3);
    const back = sound.render(1);
    expect(peak(back[0])).toBeGreaterThan(0.02);
    expect(peak(back[1])).toBeGreaterThan(0.02);
  });

  test('cough mutes the voices as long as it is held, and nothing else', () => {
    const held = (records: AnyRecord[]) => {
      const sound = new DrivenSound([sampleShow, ...records]);
      const before = sound.render(1)[0];
      sound.press({ coughing: true });
      const during = sound.render(2)[0];
      sound.press({ coughing: false });
      const after = sound.render(1.5)[0];
      return silentParts(joined(before, during, after), 0.5);
    };
    const silent = held([music({ role: 'voice' })]);
    expect(silent).toHaveLength(1);
    expect(Math.abs(silent[0].length - 2)).toBeLessThan(RAMP_SECONDS * 2);
    expect(held([music()])).toEqual([]);
  });

  test('a channel is heard only in the scenes chosen for it', () => {
    const some = music({ heard: 'scenes', sceneIds: ['break'], fadeSeconds: 0.2 });
    const records = [sampleShow, sampleScene('talk'), sampleScene('break', { position: 1 }), some];
    const sound = new DrivenSound(records, { sceneId: 'talk', poseId: null });
    sound.render(1);
    expect(peak(sound.render(1)[0])).toBe(0);
    sound.set(records, { sceneId: 'break', poseId: null });
    sound.render(0.6);
    expect(peak(sound.render(1)[0])).toBeGreaterThan(0.02);
  });

  test('solo and the headphones leave the programme alone', () => {
    const records = [sampleShow, music(), voice()];
    const plain = new DrivenSound(records).render(2)[0];
    const other = new DrivenSound(records);
    other.press({ solo: ['voice'], compare: 'voice', monitor: { deviceId: '', gainDb: -12 } });
    expect(other.render(2)[0].left).toEqual(plain.left);
  });
});

describe('tracks, ducking and offsets', () => {
  test('each track holds what was sent to it, and nothing else', () => {
    const sound = new DrivenSound([
      sampleShow,
      music({ tracks: [2, 6] }),
      voice({ tracks: [1, 5] }),
      { ...voice({ tracks: [4], muted: true }), id: 'muted' },
      channel('clapper', { type: 'simulated', sound: 'sync-clapper' }, { tracks: [1, 3] }),
    ]);
    const tracks = sound.render(5);
    expect(tracks[1].left).toEqual(tracks[5].left);
    for (const track of [0, 1, 2, 4, 5]) expect(peak(tracks[track])).toBeGreaterThan(0.02);
    expect(peak(tracks[3])).toBe(0);
    // Only the clapper is on the third: beeps, and silence between them.
    const beeps = file('beeps', tracks[2]);
    expect(meanDb(beeps, { filter: 'lowpass=f=300,lowpass=f=300' })).toBeLessThan(-50);
    expect(silentParts(tracks[2], 0.3).length).toBeGreaterThan(1);
  });

  test('an offset moves a channel by just that, later and earlier', () => {
    const clapper = (offsetMs: number) =>
      channel('clapper', { type: 'simulated', sound: 'sync-clapper' }, { offsetMs });
    const onset = (offsetMs: number) => {
      const [{ left }] = new DrivenSound([sampleShow, clapper(offsetMs)]).render(4);
      // From the silence after one beep: the next one.
      const quiet = left.findIndex(
        (_, i) => i > RATE / 2 && left.subarray(i, i + 4800).every((v) => v === 0),
      );
      return left.findIndex((v, i) => i > quiet && Math.abs(v) > 0.01);
    };
    const plain = onset(0);
    for (const ms of [300, 37, -120]) {
      const moved = (((onset(ms) - plain) / RATE) * 1000) % 1000;
      // The clapper comes round: whole rounds do not count.
      const apart = Math.min(Math.abs(moved - ms), Math.abs(Math.abs(moved - ms) - 1000));
      expect(apart, `${ms} ms`).toBeLessThan(0.1);
    }
  });

  test('music goes down by its depth while the voice speaks, and comes back', () => {
    const ducking = {
      ...{ byChannelId: 'voice', depthDb: 12, thresholdDb: -40 },
      ...{ attackMs: 40, holdMs: 100, releaseMs: 300 },
    };
    // The voice is on a track of its own only, so that the first holds nothing but the music.
    const levels = (more: Partial<ChannelRecord>) => {
      const sound = new DrivenSound([sampleShow, music(more), voice({ tracks: [5] })]);
      const talk = sound.render(9);
      sound.render(2);
      return [meanDb(file('talk', talk[0])), meanDb(file('pause', sound.render(0.8)[0]))];
    };
    const [plainTalk, plainPause] = levels({});
    const [talk, pause] = levels({ ducking });
    expect(plainTalk - talk).toBeGreaterThan(9);
    expect(plainTalk - talk).toBeLessThan(12.5);
    expect(Math.abs(plainPause - pause)).toBeLessThan(1);
  });
});

function joined(...parts: Heard[]): Heard {
  const side = (of: 'left' | 'right') => Float32Array.from(parts.flatMap((part) => Array.from(part[of])));
  return { left: side('left'), right: side('right') };
}
