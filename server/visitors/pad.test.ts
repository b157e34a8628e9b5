import { describe, expect, test, vi } from 'vitest';
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { documentOf } from '../../core/show/document';
import type { AnyRecord, ChannelRecord } from '../../core/show/records';
import { PLAIN_CHANNEL } from '../../core/show/records';
import type { PadPageRecord } from '../../core/show/rundown-records';
import { sampleScene, sampleShow } from '../../core/show/sample-show';
import type { PadEvent, PadState, ToPad } from '../../protocol/pad';
import { PadConnection, type ForPads } from './pad-connection';
import { padState, type PadFacts } from './pad-state';

const channel = (id: string, more: Partial<ChannelRecord> = {}): ChannelRecord => ({
  ...PLAIN_CHANNEL,
  ...{ kind: 'channel', id, showId: 'show', name: `Channel ${id}`, position: 0, gainDb: -3 },
  source: { type: 'effects' },
  ...more,
});
const page: PadPageRecord = {
  ...{ kind: 'padPage', id: 'pp', showId: 'show', name: 'Night', position: 0 },
  tiles: [
    { press: { command: 'scene', params: { sceneId: 'a' } }, label: '' },
    { press: { command: 'scene', params: { sceneId: 'b' } }, label: 'The other one' },
    { press: { command: 'mute', params: { channelId: 'm' } }, label: '' },
    { press: { command: 'scene', params: { sceneId: 'gone' } }, label: '' },
    { press: { command: 'goLive', params: {} }, label: '' },
  ],
  channelIds: ['m', 'gone'],
};
const records: AnyRecord[] = [
  sampleShow,
  sampleScene('a'),
  sampleScene('b', { position: 1 }),
  channel('v', { role: 'voice' }),
  channel('m', { position: 1 }),
];
const facts = (more: Partial<PadFacts> = {}, ...others: AnyRecord[]): PadFacts => ({
  document: documentOf([...records, ...others]),
  programme: { ...NO_PROGRAMME, onAir: { sceneId: 'a', poseId: null, sinceMs: 0 } },
  standing: {
    ...{ show: 'Night Signal Box', onAir: 'live', scene: 'a', startedAtMs: 0, nowMs: 5000, desk: true },
    destinations: [{ name: 'Larch', state: 'good' }],
  },
  ...{ covered: false, viewers: 312, chat: [] },
  ...more,
});

describe('what a pad shows', () => {
  test('its page, each tile as it stands, and what is gone as such', () => {
    const programme = { ...facts().programme, mutes: { m: true }, levels: {} };
    const { pages } = padState(facts({ programme }, page), 'Phone');
    expect(pages).toHaveLength(1);
    expect(pages[0].tiles.map(({ label, tone, careful }) => [label, tone, careful])).toEqual([
      ['a', 'on', false],
      ['The other one', 'plain', false],
      ['Mute Channel m', 'alarm', false],
      ['Take —', 'plain', false],
      ['Go live (held)', 'plain', true],
    ]);
    expect(pages[0].faders).toEqual([
      { channelId: 'm', name: 'Channel m', gainDb: -3, muted: true, voice: false },
    ]);
  });
  test('what Take brings on is told and marked, also where it was prepared by hand', () => {
    const prepared = { sceneId: 'b', poseId: null };
    const state = padState(facts({ programme: { ...facts().programme, prepared } }, page), 'Phone');
    expect(state.next).toEqual({ name: 'b', words: '' });
    expect(state.pages[0].tiles.map(({ tone }) => tone)).toEqual(['on', 'next', 'plain', 'plain', 'plain']);
  });
  test('a guest’s tile says whether they are on; talking is held', () => {
    const guests = {
      ...page,
      tiles: [
        { press: { command: 'bringOn', params: { seatId: 'seat' } }, label: '' },
        { press: { command: 'talk', params: {} }, label: '' },
      ],
    } as typeof page;
    const programme = facts().programme;
    const tiles = (seatsOn: string[]) =>
      padState(facts({ programme: { ...programme, seatsOn } }, guests), 'Phone').pages[0].tiles;
    expect(tiles([]).map(({ tone, words, holds }) => [tone, words, holds])).toEqual([
      ['plain', '', false],
      ['plain', 'hold', true],
    ]);
    expect(tiles(['seat'])[0]).toMatchObject({ tone: 'on', words: 'on air' });
  });
  test('scenes and the first faders where nobody made a page', () => {
    const [{ tiles, faders }] = padState(facts(), 'Phone').pages;
    expect(tiles.map(({ label }) => label)).toEqual(['a', 'b']);
    expect(faders.map(({ channelId, voice }) => [channelId, voice])).toEqual([
      ['v', true],
      ['m', false],
    ]);
  });
  test('trouble in one line, the desk before a destination', () => {
    expect(padState(facts(), '').trouble).toBeNull();
    const { standing } = facts();
    const bad = { ...standing, destinations: [{ name: 'Cairn', state: 'trouble' as const }] };
    expect(padState(facts({ standing: bad }), '').trouble).toBe('Cairn: connecting again');
    expect(padState(facts({ standing: { ...bad, desk: false } }), '').trouble).toBe('The desk is away');
  });
  test('nothing of keys, addresses or destinations’ details is in it', () => {
    expect(JSON.stringify(padState(facts({}, page), 'Phone'))).not.toMatch(/Larch|key|rtmp|token/i);
  });
});

describe('a pad that is connected', () => {
  test('is told its own levels and pictures when they change, and what viewers did since it came', async () => {
    vi.useFakeTimers();
    const { pad, said, forPads } = connect();
    const event = (seq: number): PadEvent => ({
      ...{ seq, type: 'chat', platform: 'larch', viewer: 'flo', text: `no ${seq}`, money: null, count: null },
    });
    forPads.events = [event(7)];
    const more = () => said.splice(0).filter(({ type }) => type !== 'state');
    await vi.advanceTimersByTimeAsync(130);
    more();
    forPads.levels = { m: -20, other: -3 };
    forPads.pictures.set('a', 'AAAA').set('gone-by', 'BBBB');
    forPads.events = [event(7), event(8)];
    await vi.advanceTimersByTimeAsync(130);
    expect(more()).toEqual([
      { type: 'event', event: event(8) },
      { type: 'levels', levels: { m: -20 } },
      { type: 'picture', sceneId: 'a', jpeg: 'AAAA' },
    ]);
    await vi.advanceTimersByTimeAsync(500);
    expect(more()).toEqual([]);
    pad.close();
    vi.useRealTimers();
  });
  const connect = (press = vi.fn(() => Promise.resolve<string | null>(null))) => {
    const said: ToPad[] = [];
    const state: PadState = padState(facts({}, page), 'Phone');
    const forPads: ForPads = { levels: {}, pictures: new Map(), events: [] };
    const say = (message: ToPad) => void said.push(message);
    const pad = new PadConnection({ state: () => state, forPads: () => forPads, press, say });
    return { pad, said, press, forPads };
  };
  const told = (id: number, press: object, held = true) => JSON.stringify({ type: 'press', id, press, held });
  const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

  test('is told at once, and what it presses is done and answered', async () => {
    const { pad, said, press } = connect();
    expect(said[0]).toMatchObject({ type: 'state', state: { show: 'Night Signal Box' } });
    pad.said(told(7, { command: 'take', params: {} }));
    await settle();
    expect(press).toHaveBeenCalledWith({ command: 'take', params: {} }, true);
    expect(said.at(-1)).toEqual({ type: 'pressed', id: 7, problem: null });
    pad.close();
  });
  test.each([
    ['garbage', '{', 0],
    ['no press', JSON.stringify({ type: 'press' }), 0],
    ['a number beyond all', told(1e12, { command: 'take', params: {} }), 0],
    ['an unknown command', told(3, { command: 'reboot', params: {} }), 3],
    ['wrong parameters', told(3, { command: 'level', params: { channelId: 'm', gainDb: 900 } }), 3],
    ['what changes the show itself', told(3, { command: 'undo', params: {} }), 3],
  ])('%s is refused, and nothing is done', async (_, text, id) => {
    const { pad, said, press } = connect();
    pad.said(text);
    await settle();
    expect(press).not.toHaveBeenCalled();
    expect(said.at(-1)).toMatchObject({
      type: 'pressed',
      id,
      problem: expect.stringMatching(/\w/) as string,
    });
    pad.close();
  });
  test('a pad that goes lets go of what it held', async () => {
    const { pad, press } = connect();
    const cough = { command: 'cough', params: {} };
    pad.said(told(1, cough));
    pad.said(told(2, cough, false));
    pad.said(told(3, cough));
    pad.close();
    await settle();
    expect(press.mock.calls).toEqual([true, false, true, false].map((held) => [cough, held]));
  });
  test('a flood is refused while twenty are under way', () => {
    const { pad, said, press } = connect(vi.fn(() => new Promise<string | null>(() => {})));
    for (let i = 1; i <= 50; i++) pad.said(told(i, { command: 'take', params: {} }));
    expect(press).toHaveBeenCalledTimes(20);
    expect(said.filter(({ type }) => type === 'pressed')).toHaveLength(30);
    pad.close();
  });
});
