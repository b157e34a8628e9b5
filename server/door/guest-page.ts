/** The guest's page: what stands in it before anything is told. Its script is `guest/guest.ts`, bundled by the build. */
import { WORDS } from './guest/words';

const STYLE = `
:root { color-scheme: dark light; --ground: #14181d; --surface: #1c2229; --raised: #252c35; --line: #38424e; --text: #ece8e1; --quiet: #a7afb7; --glacier: #63bdbb; --ember: #f0633f; --larch: #e2ae45; --moss: #83b168; --rose: #e39a88; --on: #14181d; }
@media (prefers-color-scheme: light) {
  :root { --ground: #f1eee8; --surface: #fbfaf7; --raised: #ffffff; --line: #d5cfc4; --text: #22272d; --quiet: #5c656e; --glacier: #1b6f6d; --ember: #b43a17; --larch: #8a5f00; --moss: #4c6b2c; --rose: #a2452f; --on: #ffffff; }
}
* { box-sizing: border-box; -webkit-tap-highlight-color: transparent; }
[hidden] { display: none !important; }
body { margin: 0; background: var(--ground); color: var(--text); font: 16px/1.4 "Hanken Grotesk Variable", system-ui, sans-serif; }
main { max-width: 460px; margin: 0 auto; padding: 18px 16px 28px; }
form, #wings { display: grid; grid-template-columns: minmax(0, 1fr); gap: 12px; }
h1 { margin: 0; font: 700 24px/1.2 "Bricolage Grotesque Variable", system-ui, sans-serif; overflow-wrap: anywhere; }
p { margin: 0; color: var(--quiet); overflow-wrap: anywhere; }
p:empty { display: none; }
video { display: block; width: 100%; aspect-ratio: 16 / 9; object-fit: cover; border-radius: 14px; background: var(--surface); }
#own { transform: scaleX(-1); }
button, select, input[type=text] { font: inherit; color: inherit; min-height: 48px; border-radius: 12px; border: 1px solid transparent; background: var(--raised); }
button { padding: 10px 14px; cursor: pointer; touch-action: manipulation; }
select, input[type=text] { width: 100%; padding: 0 12px; border-color: var(--line); background: var(--surface); text-overflow: ellipsis; }
:focus-visible { outline: 2px solid var(--glacier); outline-offset: 2px; }
label.field { display: grid; grid-template-columns: 116px minmax(0, 1fr); align-items: center; gap: 10px; color: var(--quiet); }
label.field > * { color: var(--text); }
label.check { display: flex; align-items: center; gap: 12px; min-height: 44px; }
label.check input { width: 22px; height: 22px; accent-color: var(--glacier); }
.sound { display: grid; grid-template-columns: 116px minmax(0, 1fr); align-items: center; gap: 10px; }
.sound > span:first-child { color: var(--quiet); }
.meter { position: relative; height: 12px; border-radius: 6px; background: var(--surface); box-shadow: inset 0 0 0 1px var(--line); overflow: hidden; }
.meter::before { content: ""; position: absolute; inset: 0; background: var(--glacier); transform-origin: left; transform: scaleX(var(--level, 0)); }
.meter::after { content: ""; position: absolute; inset: 0 15% 0 60%; border: 2px solid var(--text); border-top: 0; border-bottom: 0; }
.level-words { grid-column: 2; color: var(--quiet); font-size: 14px; min-height: 1.4em; }
.level-words[data-level=good] { color: var(--moss); } .level-words[data-level=loud], .level-words[data-level=silent] { color: var(--rose); }
#ready { min-height: 56px; background: var(--glacier); color: var(--on); font-weight: 700; font-size: 17px; }
#ready:disabled { background: var(--raised); color: var(--quiet); cursor: default; }
#said, #trouble { color: var(--text); }
#said:not(:empty), #trouble { padding: 10px 12px; border-radius: 12px; border: 1px solid var(--rose); }
.top { display: grid; gap: 2px; padding-left: 14px; border-left: 6px solid var(--line); }
[data-state=on] .top { border-color: var(--glacier); }
[data-state=air] .top { border-color: var(--ember); }
[data-state=air] #state { color: var(--ember); }
#words { padding: 12px 14px; border-radius: 12px; background: color-mix(in srgb, var(--larch) 14%, var(--surface)); color: var(--text); font-size: 18px; }
#talk { padding: 10px 12px; border-radius: 12px; border: 1px solid var(--larch); color: var(--text); }
.buttons { display: grid; grid-template-columns: repeat(3, minmax(0, 1fr)); gap: 8px; }
.buttons button { min-height: 64px; font-weight: 600; }
.buttons button[aria-pressed=true] { box-shadow: inset 0 0 0 2px var(--larch); color: var(--larch); }
#leave { justify-self: start; color: var(--quiet); }
`;

export const GUEST_PAGE = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1, viewport-fit=cover">
<title>${WORDS.title}</title>
<link rel="icon" href="/favicon.svg" type="image/svg+xml">
<style>${STYLE}</style>
</head>
<body data-state="wings">
<main>
<section id="before">
<form id="form">
<div><h1 id="invited"></h1><p id="seat"></p></div>
<video id="own" autoplay playsinline muted></video>
<p id="said" role="status" aria-live="polite"></p>
<button id="again" type="button" hidden>${WORDS.again}</button>
<div class="sound"><span>${WORDS.microphone}</span><div class="meter" aria-hidden="true"></div><span class="level-words"></span></div>
<label class="field"><span>${WORDS.camera}</span><select id="camera"></select></label>
<label class="field"><span>${WORDS.microphone}</span><select id="microphone"></select></label>
<label class="field"><span>${WORDS.name}</span><input type="text" id="name" maxlength="40" autocomplete="nickname"></label>
<label class="check"><input type="checkbox" id="headphones"> ${WORDS.headphones}</label>
<label class="check" id="relay-row" hidden><input type="checkbox" id="relay"> ${WORDS.relay}</label>
<p><span class="connection"></span> ${WORDS.headphonesHint}</p>
<button id="ready" disabled>${WORDS.ready}</button>
</form>
</section>
<section id="wings" hidden>
<div class="top"><h1 id="state" aria-live="polite">${WORDS.inWings}</h1><p id="when"></p><p id="show"></p></div>
<p id="trouble" role="alert" hidden></p>
<p id="talk" role="status" hidden>${WORDS.talk}</p>
<p id="words" role="status" hidden></p>
<video id="return" autoplay playsinline></video>
<p id="hears"></p>
<div class="sound"><span>${WORDS.microphone}</span><div class="meter" aria-hidden="true"></div><span class="level-words"></span></div>
<div class="buttons">
<button id="mute" type="button" aria-pressed="false">${WORDS.muteMe}</button>
<button id="camera-off" type="button" aria-pressed="false">${WORDS.cameraOff}</button>
<button id="hand" type="button" aria-pressed="false">${WORDS.hand}</button>
</div>
<p id="others"></p>
<p class="connection"></p>
<button id="leave" type="button">${WORDS.leave}</button>
</section>
</main>
<script src="/guest.js"></script>
</body>
</html>
`;
