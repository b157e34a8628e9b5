import { describe, expect, test } from 'vitest';
import { NO_PROGRAMME, reduceProgramme, type ProgrammeState } from '../programme/programme-state';
import { documentOf } from '../show/document';
import { PLAIN_CHANNEL, type ChannelRecord } from '../show/records';
import { sampleInput, sampleShow } from '../show/sample-show';
import { isBroughtOn, isTalkedTo, returnSends, TALK_TO_WINGS } from './seats';

const seat = (id: string, hearsProgramme = false) =>
  sampleInput(id, { source: { type: 'seat', sees: 'wide', inputId: null, hearsProgramme } });
const channel = (id: string, source: ChannelRecord['source'], more: Partial<ChannelRecord> = {}) =>
  ({
    ...{ kind: 'channel', id, showId: sampleShow.id, name: id, position: 0 },
    ...PLAIN_CHANNEL,
    ...{ gainDb: 0, source },
    ...more,
  }) as ChannelRecord;

const host = channel(
  'host',
  { type: 'microphone', deviceId: '', deviceLabel: '', processed: false },
  {
    role: 'voice',
  },
);
const music = channel('music', { type: 'music', files: [], order: 'listed', loop: true, playing: true });
const ada = channel('ada', { type: 'input', inputId: 'seat-a' }, { role: 'voice' });
const ben = channel('ben', { type: 'input', inputId: 'seat-b' }, { role: 'voice' });
const documentWith = (...more: ReturnType<typeof seat>[]) =>
  documentOf([sampleShow, seat('seat-a'), seat('seat-b'), host, music, ada, ben, ...more]);
const document = documentWith();
const STRIPS = ['host', 'music', 'ada', 'ben'];
const stripOf = (id: string) => (STRIPS.includes(id) ? STRIPS.indexOf(id) : undefined);
const withOn = (...seatsOn: string[]): ProgrammeState => ({ ...NO_PROGRAMME, seatsOn });
const hears = (state: ProgrammeState, seatId: string | null, talk: string | null = null, of = document) =>
  returnSends(of, state, { place: 0, seatId }, talk, stripOf);

describe('what a guest hears', () => {
  test('on air: the programme without themselves; nobody of those who wait', () => {
    expect(hears(withOn('seat-a'), 'seat-a')).toEqual(['programme', 'programme', 'none', 'none']);
    expect(hears(withOn('seat-a', 'seat-b'), 'seat-a')).toEqual([
      'programme',
      'programme',
      'none',
      'programme',
    ]);
  });

  test('in the wings: the others who wait, and the programme where the seat says so', () => {
    expect(hears(withOn(), 'seat-a')).toEqual(['none', 'none', 'none', 'talk']);
    expect(hears(withOn('seat-b'), 'seat-a')).toEqual(['none', 'none', 'none', 'none']);
    const generous = documentWith(seat('seat-a', true));
    expect(hears(withOn('seat-b'), 'seat-a', null, generous)).toEqual([
      'programme',
      'programme',
      'none',
      'programme',
    ]);
    // Without a seat one is in the wings as well.
    expect(hears(withOn(), null)).toEqual(['none', 'none', 'talk', 'talk']);
  });

  test('a muted guest is heard by nobody, in the wings neither', () => {
    const muted = { ...withOn(), mutes: { ben: true } };
    expect(hears(muted, 'seat-a')).toEqual(['none', 'none', 'none', 'none']);
  });

  test('the host talks to one seat, or to all who wait; never to those who are on', () => {
    expect(hears(withOn(), 'seat-a', 'seat-a')[0]).toBe('talk');
    expect(hears(withOn(), 'seat-b', 'seat-a')[0]).toBe('none');
    expect(hears(withOn(), 'seat-b', TALK_TO_WINGS)[0]).toBe('talk');
    expect(hears(withOn('seat-b'), 'seat-b', TALK_TO_WINGS)[0]).toBe('programme');
    expect(isTalkedTo(withOn('seat-a'), { place: 0, seatId: 'seat-a' }, TALK_TO_WINGS)).toBe(false);
    // One who is on can be spoken to by name, as with an ear piece.
    expect(hears(withOn('seat-a'), 'seat-a', 'seat-a')[0]).toBe('talk');
  });

  test('channels without a strip, and a document without channels, give nothing', () => {
    expect(returnSends(document, withOn(), { place: 0, seatId: null }, null, () => undefined)).toEqual([]);
    expect(hears(withOn(), null, null, documentOf([sampleShow]))).toEqual([]);
  });
});

describe('seats on', () => {
  test('are reduced from commands, and an entry that was counted changes nothing', () => {
    const entry = (seq: number, inputId: string, on: boolean) => ({
      ...{ seq, atMs: 0, revision: 0, by: 'page' as const },
      commands: [{ type: 'seat' as const, inputId, on }],
    });
    let state = reduceProgramme(NO_PROGRAMME, entry(1, 'seat-a', true));
    state = reduceProgramme(state, entry(2, 'seat-b', true));
    state = reduceProgramme(state, entry(3, 'seat-a', true));
    expect(state.seatsOn).toEqual(['seat-b', 'seat-a']);
    state = reduceProgramme(state, entry(4, 'seat-b', false));
    expect(reduceProgramme(state, entry(4, 'seat-b', true)).seatsOn).toEqual(['seat-a']);
  });

  test('gate the channel of the seat and no other', () => {
    expect(isBroughtOn(document, ada, withOn())).toBe(false);
    expect(isBroughtOn(document, ada, withOn('seat-a'))).toBe(true);
    expect(isBroughtOn(document, host, withOn())).toBe(true);
    expect(isBroughtOn(document, music, withOn())).toBe(true);
  });
});
