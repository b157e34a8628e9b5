import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { CUT, FADE } from '../show/motion-records';
import type { ProgrammeCommand, ProgrammeEntry } from './commands';
import {
  changedChannels,
  inverseOf,
  levelAt,
  NO_PROGRAMME,
  pictureSeconds,
  programmeAt,
  reduceProgramme,
  standingOf,
  type ProgrammeState,
} from './programme-state';

const entry = (seq: number, atMs: number, ...commands: ProgrammeCommand[]): ProgrammeEntry => ({
  ...{ seq, atMs, revision: 1, by: 'page' },
  commands,
});
const take = (sceneId: string, poseId: string | null = null): ProgrammeCommand => ({
  ...{ type: 'take', sceneId, poseId },
  transition: CUT,
});
const level = (channelId: string, gainDb: number, seconds = 0): ProgrammeCommand => ({
  ...{ type: 'level', channelId, gainDb, seconds },
});
const all = (...entries: ProgrammeEntry[]): ProgrammeState => entries.reduce(reduceProgramme, NO_PROGRAMME);

const voice = { id: 'v', gainDb: -3, muted: false, role: 'voice' as const };
const music = { id: 'm', gainDb: -10, muted: false, role: 'background' as const };

describe('what is on', () => {
  test('a scene keeps its time while only poses change, and gets a new one with another scene', () => {
    const first = all(entry(1, 1000, take('a', 'p1')));
    expect(first.onAir).toEqual({ sceneId: 'a', poseId: 'p1', sinceMs: 1000 });
    const glided = reduceProgramme(
      first,
      entry(2, 2000, { type: 'glide', sceneId: 'a', poseId: 'p2', seconds: 0.5 }),
    );
    expect(glided.onAir).toEqual({ sceneId: 'a', poseId: 'p2', sinceMs: 1000 });
    expect(reduceProgramme(glided, entry(3, 3000, take('b'))).onAir).toEqual({
      ...{ sceneId: 'b', poseId: null, sinceMs: 3000 },
    });
  });
  test('a glide of a scene that is not on any more changes nothing', () => {
    const state = all(
      entry(1, 0, take('a')),
      entry(2, 1, { type: 'glide', sceneId: 'b', poseId: 'p', seconds: 1 }),
    );
    expect(state.onAir?.poseId).toBeNull();
  });
  test('an entry counts once, in whatever number it is told', () => {
    const entries = [entry(1, 0, take('a')), entry(2, 5, level('v', -20))];
    expect(all(...entries, ...entries)).toEqual(all(...entries));
  });
  test('how long the picture takes is said by what changes it, and by nothing else', () => {
    expect(pictureSeconds([level('v', 0, 9)])).toBeNull();
    expect(pictureSeconds([take('a')])).toBe(0);
    expect(pictureSeconds([{ type: 'take', sceneId: 'a', poseId: null, transition: FADE }])).toBe(0.5);
    expect(pictureSeconds([{ type: 'glide', sceneId: 'a', poseId: 'p', seconds: 0.8 }])).toBe(0.8);
    const stinger = { assetId: 'x', name: 'x', seconds: 2, coverSeconds: 0.7, sounds: true, gainDb: 0 };
    const transition = { ...FADE, type: 'stinger' as const, seconds: 2, stinger };
    expect(pictureSeconds([{ type: 'take', sceneId: 'a', poseId: null, transition }])).toBe(0.7);
  });
});

test('what is prepared stays until it is taken, or the rundown goes on', () => {
  const stop = { sceneId: 'b', poseId: null };
  const prepared = all(entry(1, 0, { type: 'prepare', stop }));
  expect(prepared.prepared).toEqual(stop);
  expect(reduceProgramme(prepared, entry(2, 1, take('a'))).prepared).toEqual(stop);
  expect(reduceProgramme(prepared, entry(2, 1, take('b'))).prepared).toBeNull();
  const segment: ProgrammeCommand = { type: 'segment', rundownId: 'r', segmentId: 's' };
  expect(reduceProgramme(prepared, entry(2, 1, segment)).prepared).toBeNull();
});

describe('the rundown', () => {
  const segment = (segmentId: string | null): ProgrammeCommand => ({
    ...{ type: 'segment', rundownId: segmentId && 'r', segmentId },
  });
  test('its own take keeps it running; any other makes it wait; a segment brings it back', () => {
    const own = all(entry(1, 1000, segment('s1'), take('a')));
    expect(own.rundown).toEqual({
      ...{ rundownId: 'r', segmentId: 's1', sinceMs: 1000, startedMs: 1000, freely: false },
    });
    const free = reduceProgramme(own, entry(2, 2000, take('b')));
    expect(free.rundown).toMatchObject({ segmentId: 's1', freely: true });
    expect(reduceProgramme(free, entry(3, 3000, segment('s2'), take('c'))).rundown).toEqual({
      ...{ rundownId: 'r', segmentId: 's2', sinceMs: 3000, startedMs: 1000, freely: false },
    });
    expect(reduceProgramme(free, entry(3, 3000, segment(null))).rundown).toBeNull();
  });
});

describe('levels', () => {
  test('are what the show has until something is done to them, and again after that is taken back', () => {
    expect(standingOf(NO_PROGRAMME, voice)).toEqual({ gainDb: -3, seconds: 0, muted: false });
    const moved = all(entry(1, 0, level('v', -20, 2), { type: 'mute', channelId: 'v', muted: true }));
    expect(standingOf(moved, voice)).toEqual({ gainDb: -20, seconds: 2, muted: true });
    const back = reduceProgramme(moved, entry(2, 9, { type: 'asInShow', channelIds: ['v'] }));
    expect(standingOf(back, voice)).toEqual({ gainDb: -3, seconds: 0, muted: false });
  });
  test('only voices silences everything else, whatever their mutes say', () => {
    const state = all(entry(1, 0, { type: 'onlyVoices', on: true }));
    expect([standingOf(state, voice).muted, standingOf(state, music).muted]).toEqual([false, true]);
  });
  test('a fade is in the middle at half its time; one that begins on the way begins where it is', () => {
    const first = all(entry(1, 1000, level('m', -30, 2)));
    expect(levelAt(first.levels.m, music.gainDb, 2000)).toBe(-20);
    const second = reduceProgramme(
      reduceProgramme(first, entry(2, 3000, level('m', -10, 4))),
      entry(3, 5000, level('m', -60, 1)),
    );
    expect(second.levels.m.fromDb).toBe(-20);
    expect(levelAt(second.levels.m, music.gainDb, 4999)).toBe(-20);
    expect(levelAt(second.levels.m, music.gainDb, 7000)).toBe(-60);
  });
  test('keep as start writes what differs, and nothing where it came back to the same', () => {
    const state = all(
      entry(1, 0, level('v', -3), level('m', -20), { type: 'mute', channelId: 'm', muted: true }),
    );
    expect(changedChannels(state, [voice, music])).toEqual([{ ...music, gainDb: -20, muted: true }]);
    expect(changedChannels(NO_PROGRAMME, [voice, music])).toEqual([]);
  });
});

describe('titles', () => {
  const words = { line1: 'lampwright', line2: 'Dispatcher' };
  test('stay for their time, or until they are taken off', () => {
    const shown = all(entry(1, 1000, { type: 'title', titleId: 't', words, seconds: 8 }));
    expect(shown.title).toEqual({ titleId: 't', words, sinceMs: 1000, untilMs: 9000 });
    const off = entry(2, 2000, { type: 'title', titleId: null, words: null, seconds: null });
    expect(reduceProgramme(shown, off).title).toBeNull();
  });
});

const channelIds = fc.constantFrom('v', 'm');
const anyCommand: fc.Arbitrary<ProgrammeCommand> = fc.oneof(
  fc.constantFrom('a', 'b', 'c').map((sceneId) => take(sceneId)),
  fc.record({
    type: fc.constant('level' as const),
    channelId: channelIds,
    gainDb: fc.integer({ min: -60, max: 10 }),
    seconds: fc.constantFrom(0, 1, 3),
  }),
  fc.record({ type: fc.constant('mute' as const), channelId: channelIds, muted: fc.boolean() }),
  fc.record({ type: fc.constant('onlyVoices' as const), on: fc.boolean() }),
  fc.record({ type: fc.constant('cover' as const), on: fc.boolean() }),
  fc.constantFrom('s1', 's2').map((segmentId): ProgrammeCommand => ({
    ...{ type: 'segment', rundownId: 'r', segmentId },
  })),
);
const anyEntries = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 900 }), fc.array(anyCommand, { minLength: 1, maxLength: 4 })), {
    maxLength: 40,
  })
  .map((list) => {
    let atMs = 0;
    return list.map(([gap, commands], i) => entry(i + 1, (atMs += gap), ...commands));
  });

describe('whatever is done', () => {
  test('the same list gives the same state, told in one go, in parts, twice, or through JSON', () => {
    fc.assert(
      fc.property(anyEntries, fc.nat(), (entries, cut) => {
        const whole = all(...entries);
        const at = entries.length === 0 ? 0 : cut % entries.length;
        const half = entries.slice(0, at).reduce(reduceProgramme, NO_PROGRAMME);
        expect(entries.slice(at).reduce(reduceProgramme, half)).toEqual(whole);
        const told = JSON.parse(JSON.stringify(entries)) as ProgrammeEntry[];
        expect([...told, ...told].reduce(reduceProgramme, NO_PROGRAMME)).toEqual(whole);
      }),
    );
  });
  test('any moment is what was done up to it', () => {
    fc.assert(
      fc.property(anyEntries, fc.integer({ min: 0, max: 20_000 }), (entries, atMs) => {
        const until = entries.filter((one) => one.atMs <= atMs);
        expect(programmeAt(NO_PROGRAMME, entries, atMs)).toEqual(all(...until));
      }),
    );
  });
  test('what undoes an entry brings levels, mutes and titles back to what they were', () => {
    const inShow = (id: string) => (id === 'v' ? voice : music);
    fc.assert(
      fc.property(anyEntries, fc.array(anyCommand, { minLength: 1, maxLength: 4 }), (entries, commands) => {
        const before = all(...entries);
        const done = entry(entries.length + 1, 1e6, ...commands);
        const after = reduceProgramme(before, done);
        const back = inverseOf(before, done, inShow);
        const undone =
          back.length === 0 ? after : reduceProgramme(after, entry(entries.length + 2, 2e6, ...back));
        for (const channel of [voice, music]) {
          const { gainDb, muted } = standingOf(before, channel);
          expect(standingOf(undone, channel)).toMatchObject({ gainDb, muted });
        }
      }),
    );
  });
});
