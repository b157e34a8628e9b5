import { beforeEach, describe, expect, test } from 'vitest';
import { emptyBook } from '../../core/audience/book';
import { sampleEvent, sampleMessage, sampleRule } from '../../core/audience/sample-audience';
import { START_AUDIENCE, type AudienceSettings } from '../../core/audience/settings';
import { messagesAt } from '../../core/audience/chat-filter';
import { keyOf } from '../../core/audience/events';
import { documentOf } from '../../core/show/document';
import { DEFAULT_TEXT_STYLE, type AnyRecord } from '../../core/show/records';
import { sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import { DrivenClock } from '../../core/time/driven-clock';
import { createSoundMemory, MeterMemory } from '../../protocol/shared-sound';
import { LiveAudience } from './live-audience';
import { SpeakingVoices } from './speaking-voices';

const START = 1_800_000_000_000;
let clock: DrivenClock;
beforeEach(() => {
  clock = new DrivenClock(START);
});

function live(settings: Partial<AudienceSettings> = {}) {
  const began: string[] = [];
  const audience = new LiveAudience(clock, (_, words, muted) => began.push(muted ? `(${words})` : words));
  const records: AnyRecord[] = [
    { ...sampleShow, audience: { ...START_AUDIENCE, ...settings } },
    sampleScene('talk'),
    sampleScene('bare'),
    { ...sampleLayer('alert', 'talk', 0), content: { type: 'alert', style: DEFAULT_TEXT_STYLE } },
    sampleRule({ seconds: 4, mergeSeconds: 0 }),
  ];
  audience.setDocument(documentOf(records));
  /** Programme time goes with the wall clock unless it is said otherwise. */
  const at = (seconds: number) => {
    clock.advanceTo(START + seconds * 1000);
    return seconds;
  };
  return { audience, began, at };
}

const follow = (viewer: string) =>
  sampleEvent('follow', { viewer, atMs: clock.nowMs(), seq: Math.floor(clock.nowMs() / 10) });

describe('what the stage knows of the audience', () => {
  test('an alert begins while its place is on air, waits where there is none, and tells its words once', () => {
    const { audience, began, at } = live();
    audience.setOnAir('bare', at(0));
    audience.advance(0);
    audience.take([follow('mossbell')], at(1));
    for (let s = 1; s < 6; s += 0.5) audience.advance(at(s));
    expect(began).toEqual([]);
    expect(audience.report(at(6))).toMatchObject({ waiting: 1, quiet: true, running: null });
    audience.setOnAir('talk', at(6));
    for (let s = 6; s < 12; s += 0.1) audience.advance(at(s));
    expect(began).toEqual(['mossbell follows']);
  });

  test('quiet scenes, muting, and history that is no news', () => {
    const { audience, began, at } = live({ quietSceneIds: ['talk'] });
    audience.setOnAir('talk', at(0));
    audience.advance(0);
    audience.take([follow('a')], at(1));
    audience.advance(at(2));
    expect(began).toEqual([]);
    const loud = live();
    loud.audience.setOnAir('talk', loud.at(0));
    loud.audience.order('mute', 0);
    loud.audience.take([{ ...follow('old'), seq: 1 }], loud.at(1), clock.nowMs() - 60_000);
    // A platform whose clock is a minute behind still brings news.
    loud.audience.take([{ ...follow('new'), atMs: START - 60_000 }], loud.at(1));
    loud.audience.advance(loud.at(1.1));
    expect(loud.began).toEqual(['(new follows)']);
  });

  test('chat counts from when it came, whatever its platform’s clock says; held back; removed at once', () => {
    const { audience, at } = live({ holdSeconds: 2 });
    const message = sampleMessage('hello', { atMs: START - 600_000, seq: 1 });
    audience.take([message], at(10));
    audience.advance(at(10));
    const shown = (s: number) => {
      const now = audience.now('talk', at(s));
      return messagesAt(now.messages, 30, now.nowMs).length;
    };
    expect([shown(11), shown(12.1), shown(41), shown(42.1)]).toEqual([0, 1, 1, 0]);
    const before = audience.now('talk', at(13)).messagesVersion;
    audience.moderate({ type: 'removed', platform: 'larch', id: message.id, atMs: clock.nowMs() });
    expect(audience.now('talk', at(13)).messages).toEqual([]);
    expect(audience.now('talk', at(13)).messagesVersion).not.toBe(before);
  });

  test('when the computer’s clock is set, widgets follow it and the queue does not notice', () => {
    const { audience, began, at } = live();
    audience.setOnAir('talk', at(0));
    audience.take([follow('a'), { ...follow('b'), seq: 1_000_000_000 }], at(1));
    audience.advance(at(1.1));
    // An hour back, in the middle of an alert.
    clock.setDate(START - 3_600_000);
    expect(audience.now('talk', 2).nowMs).toBe(START - 3_600_000);
    for (let s = 2; s < 8; s += 0.1) audience.advance(s);
    expect(began).toEqual(['a follows', 'b follows']);
  });

  test('opened again, the page takes up what waited, and what came while it was away', () => {
    const before = live();
    before.audience.setOnAir('talk', before.at(0));
    before.audience.take(
      ['a', 'b', 'c'].map((name, i) => ({ ...follow(name), seq: i + 1 })),
      before.at(1),
    );
    before.audience.advance(before.at(1.1));
    const kept = before.audience.kept();
    expect(kept).toMatchObject({ lastSeq: 3, waiting: [{ events: 1 }, { events: 1 }] });

    const after = live();
    after.audience.setOnAir('talk', after.at(20));
    after.audience.restore(JSON.parse(JSON.stringify(kept)) as typeof kept, after.at(20));
    const missed = [2, 3, 4].map((seq) => ({ ...follow(`event ${seq}`), seq, atMs: START + 10_000 }));
    after.audience.open({ ...emptyBook(0), recent: missed }, [], after.at(20));
    // A book that is opened once more brings nothing twice.
    after.audience.open({ ...emptyBook(0), recent: missed }, [], after.at(21));
    for (let s = 20; s < 60; s += 0.1) after.audience.advance(after.at(s));
    expect(after.began).toEqual(['b follows', 'c follows', 'event 4 follows']);

    // What waited an hour ago is no news, and without anything kept the past sets off nothing.
    const late = live();
    late.audience.setOnAir('talk', late.at(0));
    late.audience.restore({ ...kept, savedMs: clock.nowMs() - 3_600_000 }, late.at(0));
    late.audience.open({ ...emptyBook(0), recent: missed }, [], late.at(0));
    late.audience.advance(late.at(1));
    expect(late.began).toEqual([]);
  });

  test('in a flood panels take messages less often, all of them in the end, and chat draws nothing but chat anew', () => {
    const { audience, at } = live();
    audience.open(emptyBook(0), [], at(0));
    audience.advance(at(0));
    const versions = new Set<number>();
    const stamp = audience.now('talk', at(0)).eventStamp;
    const said = (count: number, from: number, seconds: number) => {
      versions.clear();
      for (let i = 0; i < count; i++) {
        const s = from + (i * seconds) / count;
        audience.take([sampleMessage(`m${from}-${i}`, { id: `${from}-${i}`, seq: from * 1000 + i })], at(s));
        audience.advance(at(s));
        versions.add(audience.now('talk', at(s)).messagesVersion);
      }
      return versions.size;
    };
    expect(said(20, 1, 10)).toBe(20);
    const flood = said(250, 20, 5);
    expect(flood).toBeLessThan(20);
    expect(flood).toBeGreaterThan(10);
    audience.advance(at(26));
    expect(audience.now('talk', at(26)).messages.at(-1)?.key).toBe(
      keyOf(sampleMessage('', { id: '20-249' })),
    );
    // Afterwards they come at once again.
    expect(said(20, 30, 10)).toBe(20);
    expect(audience.now('talk', at(41)).eventStamp).toBe(stamp);
    audience.take([{ ...follow('a'), seq: 1_000_000 }], at(42));
    audience.advance(at(42));
    expect(audience.now('talk', at(42)).eventStamp).not.toBe(stamp);
  });

  test('what is drawn from events follows a storm ten times a second, and has all of it in the end', () => {
    const { audience, at } = live();
    audience.open(emptyBook(0), [], at(0));
    const seen = new Set<string>();
    const fields = new Set<string>();
    for (let i = 0; i < 300; i++) {
      const now = at(1 + i / 100);
      audience.take([{ ...follow(`v${i}`), id: `v${i}`, seq: i + 1 }], now);
      audience.advance(now);
      seen.add(audience.now('talk', now).eventStamp);
      fields.add(audience.liveFields(now)['latest.follower']);
    }
    for (const set of [seen, fields]) {
      expect(set.size).toBeGreaterThan(20);
      expect(set.size).toBeLessThan(35);
    }
    expect(audience.liveFields(at(5))['latest.follower']).toBe('v299');
  });

  test('fields are the same object until something has happened', () => {
    const { audience, at } = live();
    audience.open(emptyBook(0), [], at(0));
    const first = audience.liveFields(at(1));
    expect(audience.liveFields(at(2))).toBe(first);
    audience.take([follow('gravelpath')], at(3));
    expect(audience.liveFields(at(3))['latest.follower']).toBe('gravelpath');
  });

  test('viewers are smoothed, read-out and countdown times are kept', () => {
    const { audience, at } = live();
    audience.setViewers('larch', 100, at(0));
    audience.setViewers('larch', 200, at(10));
    expect(audience.liveFields(at(11.5)).viewers).toBe('150');
    audience.setViewers('larch', null, at(12));
    expect(audience.liveFields(at(12)).viewers).toBe('—');
    audience.setReadOut(sampleMessage('read me'), at(13));
    expect(audience.now('talk', at(14)).readOut?.message.name).toBe('tinlantern');
    audience.setReadOut(null, at(15));
    expect(audience.now('talk', at(15)).readOut).toBeNull();
    audience.setOnAir('talk', at(20), START + 5000);
    audience.setOnAir('bare', at(30));
    audience.setOnAir('talk', at(40));
    expect(audience.now('talk', at(41))).toMatchObject({
      sceneSinceMs: START + 40_000,
      sceneFirstMs: START + 5000,
    });
  });
});

test('who is heard speaking: above the threshold, and through the pauses between words', () => {
  const memory = createSoundMemory();
  const meters = new MeterMemory(memory.meters);
  const voices = new SpeakingVoices();
  voices.attach(memory.meters);
  voices.set([
    { strip: 0, name: 'Host' },
    { strip: 3, name: 'Call' },
  ]);
  meters.writeStrip(3, 'level', 0.1);
  voices.advance(1);
  expect(voices.speaking).toEqual(['Call']);
  meters.writeStrip(3, 'level', 0.001);
  voices.advance(1.4);
  expect(voices.speaking).toEqual(['Call']);
  voices.advance(1.7);
  expect(voices.speaking).toEqual([]);
});
