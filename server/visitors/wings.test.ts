import { beforeEach, expect, test } from 'vitest';
import { NO_PROGRAMME, type ProgrammeState } from '../../core/programme/programme-state';
import { documentOf } from '../../core/show/document';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import type { BusFromServer } from '../../protocol/bus';
import type { GuestNow, GuestSignal, ToGuest } from '../../protocol/guest';
import { guestConnection } from './guest-connection';
import { Wings } from './wings';

const seat = sampleInput('seat', {
  name: 'Guest 1',
  source: { type: 'seat', sees: 'wide', inputId: null, hearsProgramme: false },
});
const document = documentOf([
  sampleShow,
  seat,
  sampleInput('camera'),
  sampleScene('talk'),
  sampleLayer('layer', 'talk', 0, { content: { type: 'input', inputId: 'seat', fit: 'fill' } }),
]);
let programme: ProgrammeState;
let desk: BusFromServer[];
let told: BusFromServer[];
let sentOut: string[];
let nowMs: number;
let onAir: 'off' | 'live';
let wings: Wings;

beforeEach(() => {
  programme = NO_PROGRAMME;
  [desk, told, sentOut] = [[], [], []];
  nowMs = 1000;
  onAir = 'off';
  wings = new Wings({
    document: () => document,
    programme: () => programme,
    standing: () => ({
      ...{ show: 'The Night Signal Box', onAir, scene: null, startedAtMs: null },
      ...{ nowMs, destinations: [], desk: true },
    }),
    ice: () => [{ urls: ['stun:stun.example:3478'] }],
    broadcast: (message) => void told.push(message),
    sayToDesk: (message) => desk.push(message) > 0,
    hasDesk: () => true,
    sendOut: (id) => void sentOut.push(id),
    now: () => nowMs,
  });
  return () => wings.close();
});

function guest(id: string, seatId: string | null = null) {
  const heard: ToGuest[] = [];
  const shut: string[] = [];
  const line = guestConnection(
    wings,
    { id, seatId },
    { say: (text) => heard.push(JSON.parse(text) as ToGuest), shut: (why) => shut.push(why) },
  );
  const say = (message: object) => line.said(JSON.stringify(message));
  const last = <T extends ToGuest['type']>(type: T) =>
    heard.filter((one): one is Extract<ToGuest, { type: T }> => one.type === type).at(-1);
  return { heard, shut, line, say, last, standing: () => last('standing')!.standing };
}
const here = (): GuestNow[] =>
  told.filter((one): one is Extract<BusFromServer, { type: 'guests' }> => one.type === 'guests').at(-1)
    ?.guests ?? [];
const offer: GuestSignal = { type: 'offer', round: 1, sdp: 'v=0' };

test('a guest is nobody until they are ready; then they are on their seat, and called', () => {
  const ada = guest('ada', 'seat');
  expect(ada.last('welcome')).toMatchObject({
    show: 'The Night Signal Box',
    seat: 'Guest 1',
    ice: [{ urls: ['stun:stun.example:3478'] }],
  });
  ada.say({ type: 'signal', signal: offer });
  expect(desk).toEqual([]);
  expect(told).toEqual([]);
  ada.say({ type: 'ready', name: ' Ada \u202E ' });
  expect(here()).toMatchObject([{ id: 'ada', name: 'Ada', seatId: 'seat', here: true }]);
  expect(ada.last('call')).toEqual({ type: 'call' });
  ada.say({ type: 'signal', signal: offer });
  expect(desk).toEqual([{ type: 'guestSignal', guestId: 'ada', signal: offer }]);
  wings.signal('ada', { ...offer, type: 'answer' });
  expect(ada.last('signal')?.signal.type).toBe('answer');
});

test('no name, a seat that is none, and a link for anyone', () => {
  const nobody = guest('x', 'camera');
  nobody.say({ type: 'ready', name: '\u200B' });
  expect(nobody.last('welcome')?.seat).toBeNull();
  expect(here()).toMatchObject([{ name: 'Guest', seatId: null }]);
});

test('they are told how they stand: brought on, in the picture, talked to, who else is here', () => {
  const ada = guest('ada', 'seat');
  const ben = guest('ben', 'seat');
  ada.say({ type: 'ready', name: 'Ada' });
  ben.say({ type: 'ready', name: 'Ben' });
  expect(ada.standing()).toMatchObject({
    ...{ seat: 'Guest 1', broughtOn: false, inPicture: false, talk: false, sees: true, others: ['Ben'] },
  });
  expect(ben.standing()).toMatchObject({ seat: null, sees: false, others: ['Ada'] });
  programme = { ...NO_PROGRAMME, seatsOn: ['seat'] };
  onAir = 'live';
  wings.changed();
  expect(ada.standing()).toMatchObject({ broughtOn: true, inPicture: false, onAir: 'live' });
  programme = { ...programme, onAir: { sceneId: 'talk', poseId: null, sinceMs: 0 } };
  wings.talkTo('wings');
  expect(ada.standing()).toMatchObject({ inPicture: true, talk: false });
  expect(ben.standing()).toMatchObject({ talk: true });
  wings.talkTo('seat');
  expect([ada.standing().talk, ben.standing().talk]).toEqual([true, false]);
});

test('a page that closes leaves the seat waiting; back, it is theirs; words and removal reach one alone', () => {
  const ada = guest('ada', 'seat');
  ada.say({ type: 'ready', name: 'Ada' });
  ada.say({ type: 'self', muted: true, cameraOff: false, hand: true, problem: null });
  expect(here()[0]).toMatchObject({ muted: true, hand: true });
  ada.line.left();
  expect(here()[0]).toMatchObject({ here: false, seatId: 'seat', hand: false });
  const again = guest('ada', 'seat');
  again.say({ type: 'ready', name: 'Ada' });
  expect(here()).toHaveLength(1);
  expect(here()[0]).toMatchObject({ here: true, seatId: 'seat' });
  // The page before says goodbye late: that is nobody's going any more.
  ada.line.left();
  expect(here()[0].here).toBe(true);
  const ben = guest('ben');
  ben.say({ type: 'ready', name: 'Ben' });
  wings.order('ben', { do: 'words', text: 'You are on in a minute' });
  expect(ben.last('words')?.text).toBe('You are on in a minute');
  expect(again.last('words')).toBeUndefined();
  wings.order('ben', { do: 'seat', seatId: 'seat' });
  expect(here().map(({ seatId }) => seatId)).toEqual([null, 'seat']);
  wings.order('ben', { do: 'seat', seatId: 'camera' });
  expect(here().map(({ seatId }) => seatId)).toEqual([null, 'seat']);
  wings.order('ben', { do: 'remove' });
  expect(sentOut).toEqual(['ben']);
  expect(here().map(({ id }) => id)).toEqual(['ada']);
});

test('the same person’s second page goes on in place of the first', () => {
  const first = guest('ada', 'seat');
  first.say({ type: 'ready', name: 'Ada' });
  const second = guest('ada', 'seat');
  expect(first.shut).toEqual(['replaced']);
  second.say({ type: 'ready', name: 'Ada' });
  expect(here()).toHaveLength(1);
});

test('a desk that has just come calls those it is not connected with, and nobody else', () => {
  const ada = guest('ada');
  const ben = guest('ben');
  ada.say({ type: 'ready', name: 'Ada' });
  ben.say({ type: 'ready', name: 'Ben' });
  const calls = (one: ReturnType<typeof guest>) => one.heard.filter(({ type }) => type === 'call').length;
  wings.call(['ben', 'stranger']);
  expect([calls(ada), calls(ben)]).toEqual([1, 2]);
});

test('what is no message is answered, a flood is shut, and neither reaches the desk', () => {
  const ada = guest('ada');
  for (const text of ['{', 'null', '{"type":"take"}', '{"type":"signal","signal":{"type":"offer"}}'])
    ada.line.said(text);
  expect(ada.heard.filter(({ type }) => type === 'refused')).toHaveLength(4);
  expect(ada.shut).toEqual([]);
  for (let i = 0; i < 120; i++) ada.say({ type: 'signal', signal: offer });
  expect(ada.shut.length).toBeGreaterThan(0);
  expect([desk, told]).toEqual([[], []]);
});

test('who begins one connection after the other is shut out before the desk has begun them all', () => {
  const ada = guest('ada');
  ada.say({ type: 'ready', name: 'Ada' });
  for (let round = 1; round <= 20; round++) ada.say({ type: 'signal', signal: { ...offer, round } });
  expect(ada.shut.length).toBeGreaterThan(0);
  expect(desk.length).toBeLessThanOrEqual(8);
});

test('a show that is closed sends nobody away for good: their pages come again', () => {
  const ada = guest('ada');
  ada.say({ type: 'ready', name: 'Ada' });
  wings.close();
  expect(ada.shut).toEqual(['again']);
});

test('a ninth guest is told that there is no room', () => {
  for (let i = 0; i < 8; i++) guest(`g${i}`).say({ type: 'ready', name: `G${i}` });
  const late = guest('late');
  late.say({ type: 'ready', name: 'Late' });
  expect(late.last('refused')?.message).toMatch(/eight people/);
  expect(here()).toHaveLength(8);
});
