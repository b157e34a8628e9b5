import { CloudEvent, HTTP } from 'cloudevents';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Fault } from '../core/fault';
import { cloudEventJson, parseCloudEvent, readCloudEvent, readHookBody } from './cloud-events';

const NOW = 1_800_000_000_000;
const read = (type: string, data: object, more: object = {}) =>
  readCloudEvent(
    'larch',
    { specversion: '1.0', id: '7', source: '//larch', type: `live.${type}`, data, ...more },
    NOW,
  );

describe('events of platforms', () => {
  test('a message with badges and emotes', () => {
    const json = cloudEventJson('//larch', '7', 'chat.message', 5000, {
      viewer: 'mossbell',
      text: 'snow :snow:',
      badges: ['moderator'],
      emotes: [{ from: 5, to: 11, id: 'snow' }],
    });
    expect(parseCloudEvent('larch', json, NOW)).toEqual({
      type: 'chat',
      id: '7',
      seq: 0,
      platform: 'larch',
      channel: '',
      viewer: 'mossbell',
      colour: null,
      badges: ['moderator'],
      emotes: [{ from: 5, to: 11, id: 'snow' }],
      text: 'snow :snow:',
      atMs: 5000,
    });
  });

  test('money is exact, in decimals or in minor units', () => {
    expect(read('donation', { viewer: 'a', currency: 'EUR', amount: '12.50' })).toMatchObject({
      money: { currency: 'EUR', minor: 1250 },
    });
    expect(read('donation', { viewer: 'a', currency: 'JPY', amountMinor: 500 })).toMatchObject({
      money: { currency: 'JPY', minor: 500 },
    });
  });

  test('gifts count one when they do not say, a subscription is new when it does not say', () => {
    expect(read('subscription', { viewer: 'a', way: 'gifted' })).toMatchObject({ count: 1 });
    expect(read('subscription', { viewer: 'a' })).toMatchObject({ way: 'new', count: null });
  });

  test('moderation and viewers', () => {
    expect(read('chat.removed', { messageId: 'm1' })).toEqual({
      type: 'removed',
      platform: 'larch',
      id: 'm1',
      atMs: NOW,
    });
    expect(read('chat.silenced', { viewer: 'a' })).toMatchObject({ type: 'silenced', viewer: 'a' });
    expect(read('viewers', { viewers: 12 })).toEqual({ type: 'viewers', platform: 'larch', viewers: 12 });
  });

  test('a time in the future counts as now, none as now', () => {
    expect(read('follow', { viewer: 'a' }, { time: '2199-01-01T00:00:00Z' })).toMatchObject({ atMs: NOW });
    expect(read('follow', { viewer: 'a' })).toMatchObject({ atMs: NOW });
  });

  test('a time that no clock can read is refused with how to write it', () => {
    const at = (time: string) => () => read('follow', { viewer: 'a' }, { time });
    for (const time of ['2026-11-28T21:15:00+01', '2026-13-28T21:15:00Z', 'yesterday', ''])
      expect(at(time), time).toThrow(/time/);
    expect(at('2026-11-28T21:15:00+01')).toThrow(/write it like 2026-11-28T21:15:00\+01:00/);
    expect(at('2026-11-28T21:15:00+01:00')).not.toThrow();
  });

  test('an unknown kind is nothing from a platform, something from a hook', () => {
    const event = {
      specversion: '1.0',
      id: '1',
      source: 's',
      type: 'org.weather.snow',
      data: { text: 'on the pass' },
    };
    expect(readCloudEvent('hook', event, NOW)).toBeNull();
    expect(readCloudEvent('hook', event, NOW, true)).toMatchObject({
      type: 'other',
      title: 'org.weather.snow',
      viewer: 'hook',
      message: 'on the pass',
    });
  });

  test.each([
    ['no viewer', 'follow', {}],
    ['no amount', 'donation', { viewer: 'a', currency: 'EUR' }],
    ['nothing given', 'donation', { viewer: 'a', currency: 'EUR', amount: '0' }],
    ['a negative amount', 'donation', { viewer: 'a', currency: 'EUR', amount: '-5' }],
    ['a huge amount', 'donation', { viewer: 'a', currency: 'EUR', amount: '99999999999' }],
    ['an unknown currency', 'donation', { viewer: 'a', currency: 'ABC', amount: '5' }],
    ['half a cent', 'donation', { viewer: 'a', currency: 'EUR', amount: '5.005' }],
    ['a cheer of nothing', 'cheer', { viewer: 'a', count: 0 }],
    ['a raid of half a viewer', 'raid', { viewer: 'a', count: 0.5 }],
    ['a poll without choices', 'poll', { title: 'x' }],
    ['text for data', 'follow', 'hello'],
    ['a viewer that is an object', 'follow', { viewer: { $ne: 1 } }],
    ['emotes with a path', 'chat.message', { viewer: 'a', emotes: [{ from: 0, to: 1, id: '../x' }] }],
  ])('%s is refused with words', (_, type, data) => {
    try {
      read(type, data as object);
      expect.unreachable();
    } catch (error) {
      expect(error).toBeInstanceOf(Fault);
      expect((error as Fault).message).toMatch(/larch sent/);
    }
  });

  test('no input makes anything but an event or a fault of ours', () => {
    fc.assert(
      fc.property(fc.anything(), (raw) => {
        try {
          readCloudEvent('x', raw, NOW, true);
        } catch (error) {
          expect(error).toBeInstanceOf(Fault);
        }
      }),
    );
  });
});

describe('as others write them: the CloudEvents SDK', () => {
  const event = new CloudEvent({
    id: 'a-1',
    source: '/hut-nine/till',
    type: 'live.donation',
    time: '2026-11-23T20:00:00.000Z',
    data: { viewer: 'mössbell', currency: 'EUR', amount: '18.00', message: 'for the roof' },
  });
  const taken = (message: { headers: Record<string, unknown>; body: unknown }) => {
    const headers = Object.fromEntries(
      Object.entries(message.headers).map(([k, v]) => [k.toLowerCase(), String(v)]),
    );
    const body = typeof message.body === 'string' ? message.body : JSON.stringify(message.body);
    return readHookBody('till', (name) => headers[name], body).map((raw) =>
      readCloudEvent('till', raw, NOW, true),
    );
  };
  const expected = {
    type: 'donation',
    id: 'a-1',
    viewer: 'mössbell',
    money: { currency: 'EUR', minor: 1800 },
    message: 'for the roof',
  };

  test('structured mode', () => expect(taken(HTTP.structured(event))).toMatchObject([expected]));
  test('binary mode', () => expect(taken(HTTP.binary(event))).toMatchObject([expected]));
  test('a batch', () => {
    const body = JSON.stringify([event, event.cloneWith({ id: 'a-2' })]);
    const found = taken({ headers: { 'content-type': 'application/cloudevents-batch+json' }, body });
    expect(found.map((e) => e && 'id' in e && e.id)).toEqual(['a-1', 'a-2']);
  });
  test('what the SDK reads back from us is what we meant', () => {
    const json = cloudEventJson('//larch', '9', 'follow', NOW, { viewer: 'a' });
    const found = HTTP.toEvent({
      headers: { 'content-type': 'application/cloudevents+json' },
      body: json,
    }) as CloudEvent;
    expect(found.validate()).toBe(true);
    expect(found.type).toBe('live.follow');
  });

  test.each([
    ['no kind at all', {}, '{}'],
    ['broken JSON', { 'content-type': 'application/cloudevents+json' }, '{'],
    ['a batch that is no list', { 'content-type': 'application/cloudevents-batch+json' }, '{}'],
    [
      'a batch without end',
      { 'content-type': 'application/cloudevents-batch+json' },
      JSON.stringify(Array(101).fill({})),
    ],
  ])('%s is refused', (_, headers, body) =>
    expect(() => readHookBody('till', (name) => (headers as Record<string, string>)[name], body)).toThrow(
      Fault,
    ),
  );
});
