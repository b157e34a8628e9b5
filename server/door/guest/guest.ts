/**
 * The guest's page: choose camera and microphone, say who you are, wait in the wings, be in the show. Runs in any current
 * browser, from 360 px; bundled by itself, since the door gives out no other script of the studio.
 */
import type { FromGuest, GuestStanding, ToGuest } from '../../../protocol/guest';
import { leave, outIfEnded, socketAddress, stayAwake } from '../visit';
import { Call, type CallState } from './call';
import { OwnDevices } from './own-devices';
import { WORDS } from './words';

/** Nothing heard from the studio for so long: the page is cut off. */
const CUT_MS = 2500;
const AGAIN_MS = 800;
const LEVEL_MS = 100;
const PING_MS = 4000;
/** Where the peaks of a voice belong, dBFS, and what the meter shows. */
const BAND_DB = [-24, -9] as const;
const METER_DB = [-60, 0] as const;
/** A peak stands in words for a while, so that they can be read. */
const HELD_TICKS = 12;
const NAME_KEY = 'dolomite-guest-name';

const by = <T extends HTMLElement = HTMLElement>(id: string): T => document.getElementById(id) as T;
const input = by<HTMLInputElement>('name');

let socket: WebSocket | null = null;
let standing: GuestStanding | null = null;
let heardMs = performance.now();
/** Ready, and told so each time the connection is made anew. */
let ready = false;
let callState: CallState = 'none';
let tries = 0;
let hand = false;
let muted = false;
let cameraOff = false;
let pingMs: number | null = null;
const peaks: number[] = [];

const devices = new OwnDevices(() => void showDevices());
const call = new Call({
  say: (signal) => send({ type: 'signal', signal }),
  track: (kind) => devices.track(kind),
  onReturn: (stream) => {
    const video = by<HTMLVideoElement>('return');
    video.srcObject = stream;
    void video.play().catch(() => undefined);
  },
  onState: (state, tried) => {
    callState = state;
    tries = tried;
    showTrouble();
  },
});

function send(message: FromGuest): void {
  if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
}

function tellSelf(): void {
  send({ type: 'self', muted, cameraOff, hand, problem: devices.problem });
}

function say(words: string): void {
  by('said').textContent = words;
}

async function showDevices(): Promise<void> {
  const own = by<HTMLVideoElement>('own');
  own.srcObject = devices.stream;
  void own.play().catch(() => undefined);
  by('again').hidden = devices.stream.getTracks().length > 0;
  by<HTMLButtonElement>('ready').disabled = devices.stream.getTracks().length === 0;
  say(devices.problem ?? '');
  for (const [id, kind, none] of [
    ['camera', 'videoinput', WORDS.noCamera],
    ['microphone', 'audioinput', WORDS.noMicrophone],
  ] as const) {
    const select = by<HTMLSelectElement>(id);
    const track = devices.track(kind === 'videoinput' ? 'video' : 'audio');
    const now = track?.getSettings().deviceId ?? '';
    const options = (await devices.list(kind)).map(
      ({ deviceId, label }) => new Option(label || WORDS[id], deviceId, false, deviceId === now),
    );
    select.replaceChildren(...(options.length > 0 ? options : [new Option(none, '')]));
    select.disabled = options.length < 2;
  }
  for (const track of devices.stream.getTracks())
    track.enabled = track.kind === 'video' ? !cameraOff : !muted;
  call.replaceTracks();
  tellSelf();
}

function showLevel(): void {
  const db = devices.level();
  const share = (value: number) =>
    Math.max(0, Math.min(1, (value - METER_DB[0]) / (METER_DB[1] - METER_DB[0])));
  peaks.push(muted ? -120 : (db ?? -120));
  if (peaks.length > HELD_TICKS) peaks.shift();
  const peak = Math.max(...peaks);
  const of = peak < -55 ? 'silent' : peak < BAND_DB[0] ? 'quiet' : peak < -3 ? 'good' : 'loud';
  for (const meter of document.querySelectorAll<HTMLElement>('.meter'))
    meter.style.setProperty('--level', String(share(peaks.at(-1)!)));
  for (const words of document.querySelectorAll<HTMLElement>('.level-words')) {
    words.textContent = WORDS.level[of];
    words.dataset.level = of;
  }
}

function showTrouble(): void {
  const cut = socket?.readyState !== WebSocket.OPEN || performance.now() - heardMs > CUT_MS;
  const words = !ready
    ? ''
    : cut
      ? WORDS.cut
      : standing && !standing.desk
        ? WORDS.deskAway
        : callState === 'lost'
          ? tries > 2
            ? WORDS.noWay
            : WORDS.lost
          : callState === 'connecting'
            ? WORDS.connecting
            : (devices.problem ?? '');
  by('trouble').textContent = words;
  by('trouble').hidden = words === '';
}

function showStanding(next: GuestStanding): void {
  standing = next;
  by('show').textContent = next.show;
  const live = next.onAir !== 'off';
  const state = !next.broughtOn ? 'wings' : live ? 'air' : 'on';
  document.body.dataset.state = state;
  by('state').textContent =
    state === 'wings' ? WORDS.inWings : state === 'air' ? WORDS.onAir : WORDS.broughtOn;
  document.title = `${by('state').textContent} – ${next.show}`;
  by('when').textContent = next.broughtOn
    ? live
      ? next.inPicture
        ? WORDS.seen
        : WORDS.heardOnly
      : WORDS.offAirOn
    : next.next
      ? WORDS.at(
          new Date(next.next.atMs).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' }),
          next.next.name,
        )
      : (next.seat ?? '');
  by('return').hidden = !next.sees;
  by('hears').textContent = [
    next.sees ? WORDS.sees : '',
    next.broughtOn ? WORDS.hearsOn : next.hearsProgramme ? WORDS.hearsAll : WORDS.hearsWings,
  ].join(' ');
  by('talk').hidden = !next.talk;
  by('others').textContent = next.others.length > 0 ? WORDS.others(next.others) : '';
  showTrouble();
}

function showButtons(): void {
  for (const [id, pressed] of [
    ['mute', muted],
    ['camera-off', cameraOff],
    ['hand', hand],
  ] as const)
    by(id).setAttribute('aria-pressed', String(pressed));
}

function hear(message: ToGuest): void {
  heardMs = performance.now();
  switch (message.type) {
    case 'welcome':
      call.ice = message.ice;
      by('relay-row').hidden = !message.ice.some(({ credential }) => credential !== undefined);
      by('invited').textContent = message.show === '' ? '' : WORDS.invites(message.show);
      by('seat').textContent = message.seat === null ? '' : WORDS.forSeat(message.seat);
      if (ready) send({ type: 'ready', name: input.value, connected: callState === 'there' });
      if (ready) tellSelf();
      return;
    case 'standing':
      return showStanding(message.standing);
    case 'call':
      return void call.begin();
    case 'signal':
      // What does not fit, such as a candidate of a protocol this browser does not speak, is none.
      return void call.hear(message.signal).catch(() => undefined);
    case 'words':
      by('words').textContent = message.text;
      by('words').hidden = false;
      navigator.vibrate?.(80);
      return;
    case 'refused':
      ready = false;
      showPart('before');
      return say(message.message);
  }
}

function showPart(part: 'before' | 'wings'): void {
  by('before').hidden = part !== 'before';
  by('wings').hidden = part !== 'wings';
}

function connect(): void {
  const opened = new WebSocket(socketAddress('/guest'));
  socket = opened;
  opened.onmessage = ({ data }: MessageEvent<string>) => hear(JSON.parse(data) as ToGuest);
  opened.onclose = ({ code, reason }) => {
    showTrouble();
    if (code === 1008 && reason === 'replaced') {
      call.close();
      ready = false;
      showPart('before');
      by<HTMLButtonElement>('ready').disabled = true;
      return say(WORDS.replaced);
    }
    // Sent out, or never let in: the door says which, and takes a link.
    if (code === 1008) return location.assign('/');
    setTimeout(() => void again(), AGAIN_MS);
  };
}

async function again(): Promise<void> {
  if (!(await outIfEnded())) connect();
}

/** How long a word takes to the studio and back. */
async function ping(): Promise<void> {
  const ms = await call.roundTripMs();
  if (ms !== null) pingMs = ms;
  else if (!ready) {
    const from = performance.now();
    try {
      await fetch('/standing', { cache: 'no-store' });
      pingMs = Math.round(performance.now() - from);
    } catch {
      pingMs = null;
    }
  }
  for (const words of document.querySelectorAll('.connection'))
    words.textContent = pingMs === null ? '' : WORDS.connection(pingMs);
}

by('form').addEventListener('submit', (event) => {
  event.preventDefault();
  if (input.value.trim() === '') {
    say(WORDS.noName);
    return input.focus();
  }
  try {
    localStorage.setItem(NAME_KEY, input.value.trim());
  } catch {
    // A browser that keeps nothing asks for the name again.
  }
  ready = true;
  devices.resume();
  send({ type: 'ready', name: input.value, connected: false });
  tellSelf();
  showPart('wings');
  by('mute').focus();
  void stayAwake();
});
by('again').addEventListener('click', () => void devices.open());
for (const id of ['camera', 'microphone'] as const)
  by(id).addEventListener('change', () => {
    devices.chosen = { ...devices.chosen, [id]: by<HTMLSelectElement>(id).value };
    void devices.open();
  });
by('headphones').addEventListener('change', () => {
  devices.chosen = { ...devices.chosen, headphones: by<HTMLInputElement>('headphones').checked };
  void devices.open();
});
by('relay').addEventListener('change', () => {
  call.relayOnly = by<HTMLInputElement>('relay').checked;
});
by('mute').addEventListener('click', () => {
  muted = !muted;
  const track = devices.track('audio');
  if (track) track.enabled = !muted;
  showButtons();
  tellSelf();
});
by('camera-off').addEventListener('click', () => {
  cameraOff = !cameraOff;
  const track = devices.track('video');
  if (track) track.enabled = !cameraOff;
  showButtons();
  tellSelf();
});
by('hand').addEventListener('click', () => {
  hand = !hand;
  showButtons();
  tellSelf();
});
by('leave').addEventListener('click', () => {
  call.close();
  void leave();
});
document.addEventListener('visibilitychange', () => {
  if (document.visibilityState === 'visible' && ready) void stayAwake();
});
navigator.mediaDevices?.addEventListener('devicechange', () => {
  if (devices.problem !== null) void devices.open();
});
try {
  input.value = localStorage.getItem(NAME_KEY) ?? '';
} catch {
  // As above.
}
showButtons();
say(WORDS.asking);
setInterval(showLevel, LEVEL_MS);
setInterval(showTrouble, 500);
setInterval(() => void ping(), PING_MS);
void ping();
void devices.open();
connect();
