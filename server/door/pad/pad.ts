/**
 * The pad: tiles, faders and what is next, for a thumb in the dark. Runs in any current browser, from 360 px; bundled by
 * itself, since the door gives out no other script of the studio.
 */
import { FADER_MAX_DB, FADER_MIN_DB } from '../../../core/sound/decibel';
import { lengthText } from '../../../core/rundown/length-text';
import type { Press } from '../../../core/commands/commands';
import { leave, outIfEnded, socketAddress, stayAwake } from '../visit';
import type { FromPad, PadFader, PadState, PadTileNow, ToPad } from '../../../protocol/pad';

const AIR = { off: 'Off air', live: '', rehearsal: 'Rehearsal', recording: 'Recording', ending: 'Ending' };
/** Nothing heard for so long: the pad is cut off, and presses are refused. */
const CUT_MS = 2000;
const AGAIN_MS = 700;
/** What much hangs on is held so long. */
const CAREFUL_MS = 700;
const DRAG_MS = 50;

const by = (id: string): HTMLElement => document.getElementById(id)!;

let state: PadState | null = null;
let socket: WebSocket | null = null;
let heardMs = -Infinity;
let offsetMs = 0;
let nextId = 1;
let page = 0;
/** Faders a finger is on: what the studio says of them comes after it. */
const held = new Set<string>();

function cut(): boolean {
  return socket?.readyState !== WebSocket.OPEN || performance.now() - heardMs > CUT_MS;
}

function say(words: string, alarm = true): void {
  const line = by('said');
  line.textContent = words;
  line.dataset.alarm = String(alarm);
}

/** A press that cannot go at once is refused: one that comes late is worse than none. */
function press(what: Press, pressed = true): boolean {
  if (cut() || !state?.desk) {
    say(cut() ? 'Cut off: nothing was pressed.' : 'The desk is away: nothing was pressed.');
    return false;
  }
  const message: FromPad = { type: 'press', id: nextId++, press: what, held: pressed };
  socket!.send(JSON.stringify(message));
  if (pressed) navigator.vibrate?.(12);
  return true;
}

function element<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  className: string,
  words = '',
): HTMLElementTagNameMap[K] {
  const made = document.createElement(tag);
  made.className = className;
  made.textContent = words;
  return made;
}

/** A tile as it is told; pressed, held, or held for a moment, as its command wants. */
function tileOf(tile: PadTileNow): HTMLButtonElement {
  const button = element('button', 'tile');
  button.type = 'button';
  button.append(element('b', ''), element('span', ''));
  let now = tile;
  const show = (next: PadTileNow) => {
    now = next;
    button.dataset.tone = next.tone;
    button.setAttribute('aria-pressed', String(next.tone !== 'plain'));
    button.children[0].textContent = next.label;
    button.children[1].textContent = next.words;
    showPicture(button, next.sceneId);
  };
  show(tile);
  shows.set(button, show);
  let timer: ReturnType<typeof setTimeout> | undefined;
  const begin = () => {
    if (now.holds) return void press(now.press);
    if (!now.careful) return;
    button.dataset.holding = 'true';
    timer = setTimeout(() => {
      delete button.dataset.holding;
      press(now.press);
    }, CAREFUL_MS);
  };
  const end = () => {
    if (now.holds && button.dataset.down) press(now.press, false);
    if (button.dataset.holding) say('Hold it a little longer.', false);
    delete button.dataset.holding;
    delete button.dataset.down;
    clearTimeout(timer);
  };
  button.addEventListener('pointerdown', (event) => {
    button.setPointerCapture(event.pointerId);
    button.dataset.down = 'true';
    begin();
  });
  for (const name of ['pointerup', 'pointercancel'] as const) button.addEventListener(name, end);
  button.addEventListener('click', () => {
    if (!now.holds && !now.careful) press(now.press);
  });
  button.addEventListener('keydown', (event) => {
    if ((event.key !== 'Enter' && event.key !== ' ') || event.repeat || !(now.holds || now.careful)) return;
    event.preventDefault();
    button.dataset.down = 'true';
    begin();
  });
  button.addEventListener('keyup', end);
  button.addEventListener('blur', end);
  // A long touch would open the browser's own menu.
  button.addEventListener('contextmenu', (event) => event.preventDefault());
  return button;
}

/** Pictures of scenes, as they were told last. */
const pictures = new Map<string, string>();

function showPicture(button: HTMLElement, sceneId: string | null): void {
  const jpeg = sceneId === null ? undefined : pictures.get(sceneId);
  if (sceneId !== null) button.dataset.scene = sceneId;
  button.dataset.picture = String(jpeg !== undefined);
  const image = jpeg === undefined ? '' : `url(data:image/jpeg;base64,${jpeg})`;
  if (button.style.backgroundImage !== image) button.style.backgroundImage = image;
}

/** How each made element takes what is told of it next. */
const shows = new WeakMap<HTMLElement, (next: never) => void>();

/** Lists are kept while they have the same things in them: a finger that rests on a tile must not lose it. */
function follow<T>(
  holder: HTMLElement,
  key: string,
  items: readonly T[],
  make: (item: T) => HTMLElement,
): void {
  if (holder.dataset.key !== key) {
    holder.dataset.key = key;
    // What goes while a finger is on it is let go of.
    for (const down of holder.querySelectorAll('[data-down]')) down.dispatchEvent(new Event('pointercancel'));
    holder.replaceChildren(...items.map(make));
    return;
  }
  items.forEach((item, i) => {
    const show = shows.get(holder.children[i] as HTMLElement);
    show?.(item as never);
  });
}

function faderOf(fader: PadFader): HTMLElement {
  const row = element('div', 'fader');
  const name = element('button', 'fader-name', fader.name);
  name.type = 'button';
  const input = element('input', '');
  input.type = 'range';
  input.min = String(FADER_MIN_DB);
  input.max = String(FADER_MAX_DB);
  input.step = '0.5';
  input.setAttribute('aria-label', `Level of ${fader.name}`);
  const db = element('span', 'db');
  const meter = element('meter', 'level');
  meter.min = FADER_MIN_DB;
  meter.max = 0;
  meter.setAttribute('aria-label', `Level heard of ${fader.name}`);
  row.dataset.channel = fader.channelId;
  const track = element('div', 'track');
  track.append(input, meter);
  row.append(name, track, db);
  let now = fader;
  let sentMs = -Infinity;
  const words = (value: number) =>
    value <= FADER_MIN_DB ? 'off' : `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value)} dB`;
  const show = (next: PadFader) => {
    now = next;
    row.dataset.muted = String(next.muted);
    row.dataset.voice = String(next.voice);
    name.setAttribute('aria-pressed', String(next.muted));
    name.title = next.muted ? 'Unmute' : 'Mute';
    if (held.has(next.channelId)) return;
    input.value = String(next.gainDb);
    db.textContent = next.muted ? 'muted' : words(next.gainDb);
  };
  show(fader);
  shows.set(row, show);
  const send = (done: boolean) => {
    const value = Number(input.value);
    db.textContent = words(value);
    if (!done && performance.now() - sentMs < DRAG_MS) return;
    sentMs = performance.now();
    const params = { channelId: now.channelId, gainDb: value, ...(!done && { seconds: DRAG_MS / 1000 }) };
    if (!press({ command: 'level', params })) input.value = String(now.gainDb);
  };
  input.addEventListener('input', () => {
    held.add(now.channelId);
    send(false);
  });
  input.addEventListener('change', () => {
    send(true);
    held.delete(now.channelId);
  });
  name.addEventListener('click', () =>
    press({ command: 'mute', params: { channelId: now.channelId, on: !now.muted } }),
  );
  return row;
}

function show(next: PadState): void {
  state = next;
  heardMs = performance.now();
  offsetMs = next.nowMs - Date.now();
  by('show').textContent = next.show;
  const over = next.overSeconds === null ? 0 : Math.round(next.overSeconds);
  by('over').textContent =
    next.overSeconds === null || over === 0
      ? ''
      : `${lengthText(Math.abs(over))} ${over > 0 ? 'over' : 'under'}`;
  by('over').dataset.over = String(over > 0);
  by('viewers').textContent = next.viewers === null ? '' : String(next.viewers);
  by('health').textContent = next.trouble ?? '';
  by('health').hidden = next.trouble === null;
  by('next-name').textContent = next.next?.name ?? 'Nothing is next';
  by('next-words').textContent = next.next?.words ?? '';
  (by('take') as HTMLButtonElement).disabled = next.next === null;
  by('on').textContent = next.on?.name ?? '';
  by('notes').textContent = next.on?.notes ?? '';
  by('now').hidden = next.on === null;
  page = Math.min(page, Math.max(0, next.pages.length - 1));
  const names = next.pages.map(({ name }) => name);
  follow(by('pages'), names.join('\n'), names, (name) => {
    const tab = element('button', 'page-tab', name);
    tab.type = 'button';
    tab.addEventListener('click', () => {
      page = Number(tab.dataset.at);
      if (state) show(state);
    });
    return tab;
  });
  by('pages').hidden = names.length < 2;
  [...by('pages').children].forEach((tab, i) => {
    (tab as HTMLElement).dataset.at = String(i);
    tab.setAttribute('aria-pressed', String(i === page));
  });
  const { tiles = [], faders = [] } = next.pages[page] ?? {};
  next.voiceBandDb.forEach((db, i) =>
    by('faders').style.setProperty(i === 0 ? '--from' : '--to', `${shareOf(Math.min(0, db)) * 100}%`),
  );
  const key = (list: readonly PadTileNow[]) =>
    JSON.stringify(list.map((tile) => [tile.press, tile.holds, tile.careful]));
  follow(by('tiles'), `${page}${key(tiles)}`, tiles, tileOf);
  follow(by('faders'), `${page}${faders.map((f) => f.channelId + f.name).join()}`, faders, faderOf);
  follow(by('standing'), key(next.standing), next.standing, tileOf);
  by('chat').replaceChildren(
    ...next.chat.map(({ name, text }) => {
      const line = element('p', '');
      line.append(element('b', '', name), ` ${text}`);
      return line;
    }),
  );
}

/** Of the meter's way, 0…1. */
const shareOf = (db: number): number => (db - FADER_MIN_DB) / (0 - FADER_MIN_DB);

function showLevels(levels: Record<string, number>): void {
  for (const row of by('faders').children) {
    const level = levels[(row as HTMLElement).dataset.channel ?? ''];
    const meter = row.querySelector('meter');
    if (meter && level !== undefined) meter.value = Math.max(FADER_MIN_DB, level);
  }
}

/** Once a moment: the clock, and whether the pad is cut off. */
function tick(): void {
  const off = cut();
  document.body.dataset.cut = String(off || !state?.desk);
  by('cut').hidden = !off;
  if (!state) return;
  const { startedAtMs, onAir } = state;
  const seconds =
    startedAtMs === null ? 0 : Math.max(0, Math.floor((Date.now() + offsetMs - startedAtMs) / 1000));
  const two = (n: number) => String(n).padStart(2, '0');
  by('clock').textContent =
    startedAtMs === null || AIR[onAir] !== ''
      ? AIR[onAir] || 'Off air'
      : `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
  by('clock').dataset.air = onAir;
  document.title = `${by('clock').textContent} – ${state.show}`;
}

function connect(): void {
  const opened = new WebSocket(socketAddress('/pad'));
  socket = opened;
  opened.onmessage = ({ data }: MessageEvent<string>) => {
    const message = JSON.parse(data) as ToPad;
    if (message.type === 'state') show(message.state);
    else if (message.type === 'event') return;
    else if (message.type === 'levels') showLevels(message.levels);
    else if (message.type === 'picture') {
      pictures.set(message.sceneId, message.jpeg);
      for (const tile of document.querySelectorAll<HTMLElement>('#tiles .tile'))
        if (tile.dataset.scene === message.sceneId) showPicture(tile, message.sceneId);
    } else if (message.problem !== null) say(message.problem);
    else say('');
    tick();
  };
  opened.onclose = ({ code }) => {
    tick();
    // Sent out, or never let in: the door says which, and takes a link.
    if (code === 1008) return location.assign('/');
    setTimeout(() => void again(), AGAIN_MS);
  };
}

async function again(): Promise<void> {
  if (!(await outIfEnded())) connect();
}

by('take').addEventListener('click', () => press({ command: 'take', params: {} }));
by('leave').addEventListener('click', () => void leave());
document.addEventListener('visibilitychange', () => {
  if (document.visibilityState === 'visible') void stayAwake();
});
void stayAwake();
setInterval(tick, 250);
connect();
