/** The page of the pad: what stands in it before anything is told. Its script is `pad/pad.ts`, bundled by the build. */
const STYLE = `
:root { color-scheme: dark light; --ground: #14181d; --surface: #1c2229; --raised: #252c35; --line: #38424e; --text: #ece8e1; --quiet: #a7afb7; --glacier: #63bdbb; --ember: #f0633f; --larch: #e2ae45; --moss: #83b168; --rose: #e39a88; --on: #14181d; }
@media (prefers-color-scheme: light) {
  :root { --ground: #f1eee8; --surface: #fbfaf7; --raised: #ffffff; --line: #d5cfc4; --text: #22272d; --quiet: #5c656e; --glacier: #1b6f6d; --ember: #b43a17; --larch: #8a5f00; --moss: #4c6b2c; --rose: #a2452f; --on: #ffffff; }
}
* { box-sizing: border-box; -webkit-tap-highlight-color: transparent; }
[hidden] { display: none !important; }
body { margin: 0; background: var(--ground); color: var(--text); font: 15px/1.35 "Hanken Grotesk Variable", system-ui, sans-serif; -webkit-user-select: none; user-select: none; overscroll-behavior: none; }
main { max-width: 760px; margin: 0 auto; padding: 10px 12px 24px; display: grid; grid-template-columns: minmax(0, 1fr); gap: 10px; }
button { font: inherit; color: inherit; border: 0; background: var(--raised); border-radius: 10px; cursor: pointer; touch-action: manipulation; }
:focus-visible { outline: 2px solid var(--glacier); outline-offset: 2px; }
.figure, #clock, #over, #viewers, .db { font-family: "JetBrains Mono Variable", ui-monospace, monospace; font-variant-numeric: tabular-nums; }
.top { display: flex; align-items: center; gap: 10px; min-height: 34px; }
#show { margin: 0; flex: 0 1 auto; min-width: 0; font: 600 13px/1.2 "Hanken Grotesk Variable", system-ui, sans-serif; color: var(--quiet); overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
#clock { padding: 5px 10px; border-radius: 9px; background: var(--surface); font-weight: 600; }
#clock[data-air=live] { background: var(--ember); color: var(--on); }
#clock[data-air=rehearsal], #clock[data-air=recording], #clock[data-air=ending] { background: var(--glacier); color: var(--on); }
#over { color: var(--moss); white-space: nowrap; } #over[data-over=true] { color: var(--larch); }
.room { flex: 1 1 0; }
#clock, #over, #viewers { flex: none; }
#viewers { color: var(--quiet); }
#health, #cut { padding: 8px 12px; border-radius: 10px; border: 1px solid var(--rose); color: var(--text); }
#health::before, #cut::before { content: "◆ "; color: var(--rose); }
.next { display: flex; align-items: center; gap: 10px; padding: 10px 12px; border-radius: 12px; border: 2px solid var(--larch); background: color-mix(in srgb, var(--larch) 12%, var(--surface)); }
.next small { color: var(--larch); display: block; }
.next b { display: block; font: 650 19px/1.2 "Bricolage Grotesque Variable", system-ui, sans-serif; overflow-wrap: anywhere; }
.next span { color: var(--quiet); }
.next div { flex: 1; min-width: 0; }
#take { min-width: 96px; min-height: 56px; background: var(--larch); color: var(--on); font-weight: 700; font-size: 17px; }
#take:disabled { background: var(--raised); color: var(--quiet); }
#now { padding: 8px 12px; border-left: 3px solid var(--ember); border-radius: 8px; background: var(--surface); }
#now b { display: block; }
#notes { margin: 2px 0 0; white-space: pre-wrap; color: var(--quiet); }
#notes:empty { display: none; }
#pages { display: flex; gap: 6px; overflow-x: auto; }
.page-tab { min-height: 36px; padding: 0 14px; white-space: nowrap; }
.page-tab[aria-pressed=true] { box-shadow: inset 0 0 0 2px var(--glacier); color: var(--glacier); }
.tiles { display: grid; grid-template-columns: repeat(auto-fill, minmax(150px, 1fr)); gap: 8px; }
#standing { grid-template-columns: repeat(2, 1fr); }
.tile { display: grid; align-content: end; justify-items: start; gap: 1px; min-height: 72px; padding: 9px 12px; text-align: left; position: relative; overflow: hidden; touch-action: none; }
#tiles .tile { touch-action: manipulation; }
.tile b { font-weight: 650; overflow-wrap: anywhere; }
.tile span { font-size: 12.5px; color: var(--quiet); min-height: 1.3em; }
.tile[data-tone=on] { box-shadow: inset 0 0 0 2px var(--ember); background: color-mix(in srgb, var(--ember) 14%, var(--raised)); }
.tile[data-tone=next] { box-shadow: inset 0 0 0 2px var(--larch); }
.tile[data-tone=alarm] { box-shadow: inset 0 0 0 2px var(--rose); color: var(--rose); }
.tile[data-down]:active, .tile:active { filter: brightness(1.2); }
.tile[data-holding]::after { content: ""; position: absolute; left: 0; bottom: 0; height: 4px; width: 100%; background: var(--glacier); transform-origin: left; animation: hold 700ms linear; }
@keyframes hold { from { transform: scaleX(0); } }
@media (prefers-reduced-motion: reduce) { .tile[data-holding]::after { animation: none; } }
#faders { display: grid; gap: 4px; }
.fader { display: grid; grid-template-columns: 96px minmax(0, 1fr) 68px; align-items: center; gap: 10px; min-height: 48px; }
.fader-name { min-height: 44px; padding: 0 8px; text-align: left; overflow: hidden; font-size: 14px; line-height: 1.15; overflow-wrap: anywhere; }
.fader[data-muted=true] .fader-name { box-shadow: inset 0 0 0 2px var(--rose); color: var(--rose); }
.fader[data-voice=true] .fader-name { border-left: 3px solid var(--glacier); }
.track { display: grid; gap: 0; position: relative; }
.fader .level { width: 100%; height: 6px; margin: -8px 0 6px; border: 0; border-radius: 3px; background: var(--line); overflow: hidden; }
.fader .level::-webkit-meter-bar { height: 6px; border: 0; border-radius: 3px; background: var(--line); }
.fader .level::-webkit-meter-optimum-value { background: var(--moss); }
.fader .level::-moz-meter-bar { background: var(--moss); }
.fader[data-voice=true] .track::after { content: ""; position: absolute; bottom: 4px; left: var(--from); right: calc(100% - var(--to)); height: 10px; border: 2px solid var(--glacier); border-top: 0; border-radius: 0 0 4px 4px; pointer-events: none; }
.tile[data-picture=true] { min-height: 92px; background-size: cover; background-position: center; color: #fff; text-shadow: 0 1px 3px #000, 0 0 8px #000; }
.tile[data-picture=true]::before { content: ""; position: absolute; inset: 40% 0 0; background: linear-gradient(transparent, rgb(0 0 0 / 82%)); }
.tile[data-picture=true] > * { position: relative; }
.tile[data-picture=true] span { color: #e6e6e6; }
.fader input { width: 100%; height: 44px; accent-color: var(--glacier); touch-action: none; }
.db { text-align: right; font-size: 13px; }
#chat { display: grid; gap: 3px; padding: 8px 12px; border-radius: 10px; background: var(--surface); }
#chat:empty { display: none; }
#chat p { margin: 0; overflow-wrap: anywhere; } #chat b { color: var(--glacier); }
#said { min-height: 1.35em; margin: 0; } #said[data-alarm=true] { color: var(--rose); }
body[data-cut=true] #take, body[data-cut=true] .tiles, body[data-cut=true] #faders { opacity: 0.45; }
#leave { justify-self: start; min-height: 36px; padding: 0 14px; color: var(--quiet); }
`;

export const PAD_PAGE = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1, viewport-fit=cover">
<title>Pad</title>
<link rel="icon" href="/favicon.svg" type="image/svg+xml">
<style>${STYLE}</style>
</head>
<body>
<main>
<div class="top"><span id="clock"></span><span id="over"></span><h1 id="show"></h1><span class="room"></span><span id="viewers" title="Watching"></span></div>
<p id="cut" role="alert" hidden>Cut off from the studio. Presses are refused until it is back.</p>
<p id="health" role="status" hidden></p>
<section class="next" aria-label="Next"><div><small>Next</small><b id="next-name"></b><span id="next-words"></span></div><button id="take" type="button">Take</button></section>
<section id="now" aria-label="On air" hidden><b id="on"></b><p id="notes"></p></section>
<p id="said" role="status" aria-live="polite"></p>
<nav id="pages" aria-label="Pages" hidden></nav>
<section id="tiles" class="tiles" aria-label="Tiles"></section>
<section id="faders" aria-label="Faders"></section>
<section id="standing" class="tiles" aria-label="At hand"></section>
<section id="chat" aria-label="Chat"></section>
<button id="leave" type="button">Leave</button>
</main>
<script src="/pad.js"></script>
</body>
</html>
`;
