/** The door's own pages: one takes a link, and shows how the show stands to whoever may look. Nothing of the show is in them. */
import { asyncApi, openApi } from '../../core/commands/api-docs';
import { PLAIN_STYLE } from '../pages/plain-style';
import { GUEST_PAGE } from './guest-page';
import { PAD_PAGE } from './pad-page';

export interface DoorPage {
  type: string;
  body: string;
}

const STYLE = `${PLAIN_STYLE}
:root { --rose: #e39a88; --moss: #8fb572; }
@media (prefers-color-scheme: light) { :root { --rose: #a2452f; --moss: #4c6b2c; } }
[hidden] { display: none !important; }
.air { font: 700 34px/1.1 "Bricolage Grotesque Variable", system-ui, sans-serif; margin: 10px 0 2px; padding-left: 18px; border-left: 6px solid var(--line); }
.air[data-air=live] { border-color: var(--rose); }
.air[data-air=rehearsal], .air[data-air=recording], .air[data-air=ending] { border-color: var(--glacier); }
.clock { font: 500 44px/1.2 "JetBrains Mono Variable", ui-monospace, monospace; font-variant-numeric: tabular-nums; margin: 6px 0; color: var(--text); min-height: 1.2em; }
dl { display: grid; grid-template-columns: auto 1fr; gap: 6px 18px; margin: 14px 0; }
dt { color: var(--quiet); } dd { margin: 0; overflow-wrap: anywhere; }
.trouble { color: var(--rose); font-weight: 600; }
#cut { border: 1px solid var(--rose); border-radius: 8px; padding: 8px 12px; color: var(--text); }
`;

const PAGE = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Dolomite</title>
<link rel="icon" href="/favicon.svg" type="image/svg+xml">
<style>${STYLE}</style>
</head>
<body>
<main>
<section id="in" hidden>
<h1>Come in</h1>
<p>This is the door of a studio. Open the link you were given, or paste it here.</p>
<form>
<label for="token">Link</label>
<input id="token" name="token" autocomplete="off" spellcheck="false" required>
<button>Come in</button>
</form>
</section>
<section id="standing" hidden>
<h1 id="show"></h1>
<p id="who"></p>
<p id="cut" role="alert" hidden></p>
<div class="air" id="air"></div>
<div class="clock" id="clock"></div>
<dl id="facts"></dl>
<button id="leave" type="button">Leave</button>
</section>
<p role="status" aria-live="polite"></p>
</main>
<script src="/door.js"></script>
</body>
</html>
`;

/** Words for what `Standing` says; the page has no build of its own. */
const SCRIPT = `
const by = (id) => document.getElementById(id);
const say = document.querySelector('[role=status]');
const AIR = { off: 'Off air', live: 'On air', rehearsal: 'Rehearsal', recording: 'Recording', ending: 'Ending' };
const ROLES = { operator: 'operator', guest: 'guest', watcher: 'watcher' };
const CUT = 'No connection to the studio. What stands here is old. Connecting again…';
let standing = null;
let heardMs = 0;
let offsetMs = 0;
/** Who has left hears nothing more: what was under way must not bring the show back on the screen. */
let left = false;
let socket = null;

function showIn(message) {
  by('in').hidden = false;
  by('standing').hidden = true;
  say.textContent = message;
  by('token').focus();
}
function line(name, value, trouble) {
  const dt = document.createElement('dt');
  const dd = document.createElement('dd');
  dt.textContent = name;
  dd.textContent = value;
  if (trouble) dd.className = 'trouble';
  by('facts').append(dt, dd);
}
function showCut() {
  by('cut').textContent = CUT;
  by('cut').hidden = false;
}
function showStanding(next) {
  const changed = JSON.stringify({ ...next, nowMs: 0 }) !== JSON.stringify({ ...standing, nowMs: 0 });
  standing = next;
  heardMs = performance.now();
  offsetMs = next.nowMs - Date.now();
  by('cut').hidden = true;
  if (!changed) return;
  by('in').hidden = true;
  by('standing').hidden = false;
  say.textContent = '';
  by('show').textContent = next.show ?? 'No show is open';
  by('who').textContent = 'You are here as ' + ROLES[next.role] + ': ' + next.name;
  by('air').textContent = AIR[next.onAir];
  by('air').dataset.air = next.onAir;
  document.title = AIR[next.onAir] + ' – ' + (next.show ?? 'Dolomite');
  by('facts').replaceChildren();
  line('Scene', next.scene ?? 'None');
  if (next.onAir !== 'off' && !next.desk) line('Picture', 'The desk is away: viewers see the cover', true);
  for (const { name, state } of next.destinations)
    line(name, { good: 'Good', connecting: 'Connecting', trouble: 'Trouble: connecting again' }[state], state === 'trouble');
}
setInterval(() => {
  if (!standing) return;
  // The studio speaks every second: nothing for two of them is a cut.
  if (performance.now() - heardMs > 2000) showCut();
  const seconds = standing.startedAtMs === null ? null : Math.max(0, Math.floor((Date.now() + offsetMs - standing.startedAtMs) / 1000));
  const two = (n) => String(n).padStart(2, '0');
  by('clock').textContent = seconds === null ? '' : two(Math.floor(seconds / 3600)) + ':' + two(Math.floor(seconds / 60) % 60) + ':' + two(seconds % 60);
}, 250);

async function look() {
  try {
    const answer = await fetch('/standing');
    const body = await answer.json();
    if (left) return;
    if (answer.status === 401 || answer.status === 403) {
      standing = null;
      return showIn('');
    }
    if (answer.ok && body.role === 'operator') return location.replace('/pad');
    if (answer.ok && body.role === 'guest') return location.replace('/guest');
    if (!answer.ok) {
      if (!standing) say.textContent = body.message;
      return setTimeout(look, 2000);
    }
    showStanding(body);
    socket = new WebSocket((location.protocol === 'https:' ? 'wss://' : 'ws://') + location.host + '/standing');
    socket.onmessage = ({ data }) => left || showStanding(JSON.parse(data));
    socket.onclose = ({ code }) => {
      // Whoever left by themselves has been told.
      if (left || !standing) return;
      if (code === 1008) {
        standing = null;
        return showIn('Your visit was ended. To come back, you need a new link.');
      }
      showCut();
      setTimeout(look, 1000);
    };
  } catch {
    if (!standing) say.textContent = 'The door does not answer. Trying again…';
    setTimeout(look, 2000);
  }
}
async function comeIn(pasted) {
  left = false;
  say.textContent = 'Coming in…';
  const token = pasted.trim().replace(/^.*#/, '');
  try {
    const answer = await fetch('/come-in', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ token }),
    });
    const { message } = await answer.json();
    if (answer.ok) return look();
    showIn(message);
  } catch {
    showIn('The door does not answer. Try again in a moment.');
  }
}
document.querySelector('form').addEventListener('submit', (event) => {
  event.preventDefault();
  void comeIn(by('token').value);
});
by('leave').addEventListener('click', async () => {
  left = true;
  try {
    await fetch('/leave', { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' });
  } catch {
    left = false;
    say.textContent = 'The door does not answer: you are still in. Try again in a moment.';
    return;
  }
  standing = null;
  socket?.close();
  showIn('You have left. To come back, you need a link.');
});
// What stands after the # is never sent to anybody by itself; it leaves the address at once, and the history with it.
const token = location.hash.slice(1);
if (token) {
  history.replaceState(null, '', '/');
  void comeIn(token);
} else void look();
`;

/** @param favicon as SVG @param scripts the bundled scripts of pad and guest's page */
export function doorPages(
  favicon: string,
  scripts: { pad: string; guest: string },
): (path: string) => DoorPage | null {
  const pages: Record<string, DoorPage> = {
    '/': { type: 'text/html; charset=utf-8', body: PAGE },
    '/door.js': { type: 'text/javascript; charset=utf-8', body: SCRIPT },
    '/pad': { type: 'text/html; charset=utf-8', body: PAD_PAGE },
    '/pad.js': { type: 'text/javascript; charset=utf-8', body: scripts.pad },
    '/guest': { type: 'text/html; charset=utf-8', body: GUEST_PAGE },
    '/guest.js': { type: 'text/javascript; charset=utf-8', body: scripts.guest },
    '/openapi.json': { type: 'application/json', body: JSON.stringify(openApi(), null, 2) },
    '/asyncapi.json': { type: 'application/json', body: JSON.stringify(asyncApi(), null, 2) },
    '/favicon.svg': { type: 'image/svg+xml', body: favicon },
  };
  return (path) => (Object.hasOwn(pages, path) ? pages[path] : null);
}
