import { EVENT_TYPES } from '../../core/audience/events';
import type { Platform } from './platform';
import { MOODS, type Line } from './line-shaper';

/** Pages of a stand-in platform: plain HTML, plainly not the studio. */
function page(title: string, accent: string, body: string): string {
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${title}</title>
<style>body{margin:0;background:#f4f1ea;color:#22272d;font:15px/1.5 system-ui,sans-serif}header{padding:14px 24px;background:${accent};color:#fff}
main{padding:24px;max-width:1160px;margin:auto}button,input,select{font:inherit;padding:6px 12px;border-radius:6px;border:1px solid #b9b2a6;background:#fff}
code{font-size:14px;background:#fff;padding:3px 8px;border-radius:4px}video{width:100%;aspect-ratio:16/9;background:#000;border-radius:6px}
.split{display:grid;grid-template-columns:minmax(0,1fr) 300px;gap:20px}#chat{height:420px;overflow:auto;background:#fff;border-radius:6px;padding:10px}#chat b{color:${accent}}</style></head>
<body><header><b>${title}</b></header><main>${body}</main></body></html>`;
}

const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

const ACCENTS: Record<string, string> = { larch: '#8a6a1f', cairn: '#4b5a66', marmot: '#7a4a32' };
const accentOf = (platform: Platform) => ACCENTS[platform.facts.name] ?? '#445';

export function accountPage(platform: Platform): string {
  const { name, title, capKbps } = platform.facts;
  return page(
    `${title}: account`,
    accentOf(platform),
    `<h1>Your ${title} account</h1><p>${title} is a stand-in: a made-up platform for trying things out. It takes up to ${capKbps} kbps.</p>
<p>Ingest addresses: ${platform.servers.map((s) => `${s.name} <code>${s.url}</code>`).join(', ')}</p>
<p>Stream key: <code id="key" data-key="${platform.key}">••••••••••••</code> <button onclick="key.textContent=key.dataset.key">Show</button> <button onclick="navigator.clipboard.writeText(key.dataset.key)">Copy</button></p>
<form method="post" action="/${name}/key"><button>Revoke and make a new key</button></form>
<h2>Misbehave</h2><p>For trying what the studio does about it. Now: <b>${platform.shaper.mood}</b></p>
<form method="post" action="/${name}/mood">${MOODS.map((mood) => `<button name="mood" value="${mood}">${mood}</button>`).join(' ')}</form>
<h2>Make something happen</h2><form method="post" action="/${name}/event">${EVENT_TYPES.map((kind) => `<button name="kind" value="${kind}">${kind}</button>`).join(' ')} <input name="viewer" value="guest_of_the_hut" aria-label="By whom" maxlength="40"></form>
<form method="post" action="/${name}/storm" style="margin-top:8px"><button>Storm</button> of <input name="count" value="1000" size="6" aria-label="Events"> events in <input name="seconds" value="10" size="4" aria-label="Seconds"> s, seed <input name="seed" value="1" size="4" aria-label="Seed"></form>
<p><a href="/${name}/watch">Watch page</a> · <a href="/line">The line to all platforms</a></p>`,
  );
}

/** Where a code is entered, so that a program may act for this account. */
export function devicePage(platform: Platform, told: string): string {
  return page(
    `${platform.facts.title}: connect a program`,
    accentOf(platform),
    `<h1>Connect a program</h1><p>Enter the code that the program shows. It may then read your stream key and set the title of your broadcast.</p>
<form method="post" action="/${platform.facts.name}/device"><input name="code" aria-label="Code" autocomplete="off" size="12" maxlength="12"> <button name="allow" value="yes">Allow</button> <button name="allow" value="no">Refuse</button></form><p role="status">${told}</p>`,
  );
}

/** Where a program that sent the browser here is allowed or refused. @param problem what is wrong with its request */
export function authorizePage(platform: Platform, query: string, problem: string | null): string {
  const { name, title } = platform.facts;
  return page(
    `${title}: connect a program`,
    accentOf(platform),
    problem
      ? `<h1>This cannot be allowed</h1><p role="status">${escaped(problem)}</p>`
      : `<h1>Connect a program</h1><p>A program on this computer wants to read your stream key and set the title of your broadcast.</p>
<form method="post" action="/${name}/authorize?${escaped(query)}"><button name="allow" value="yes">Allow</button> <button name="allow" value="no">Refuse</button></form>`,
  );
}

/** The made-up line between this house and all platforms. */
export function linePage(line: Line): string {
  const field = (name: keyof Line, label: string, unit: string) =>
    `<p><label>${label} <input name="${name}" value="${line[name] ?? ''}" size="7"></label> ${unit}</p>`;
  return page(
    'The line',
    '#445',
    `<h1>The line to all platforms</h1><p>Made up, for trying what the studio does about it. Empty rate: no limit.</p>
<form method="post" action="/line">${field('kbps', 'Rate', 'kbps')}${field('delayMs', 'Delay', 'ms each way')}${field('loss', 'Loss', 'share of packets, 0 to 1')}${field('jitterMs', 'Jitter', 'ms')}<button>Set</button></form>
<h2>By script</h2><p>8, then 3, then nothing for 5 s, then 1, then 6 Mb/s, 2 % loss, 30 s each.</p>
<form method="post" action="/line"><input type="hidden" name="script" value="evening"><button>Run the script</button></form>`,
  );
}

export function watchPage(platform: Platform): string {
  const { name, title, frame } = platform.facts;
  const shape = frame === 'tall' ? ' style="aspect-ratio:9/16;max-height:78vh"' : '';
  return page(
    `${title}: Night Signal Box`,
    accentOf(platform),
    `<h1 style="margin-top:0">${escaped(String(platform.details.title ?? ''))}</h1><p>${escaped(String(platform.details.category ?? ''))}${platform.details.visibility ? ` · for ${escaped(String(platform.details.visibility))}` : ''}</p>${platform.thumbnail ? `<img src="/${name}/thumbnail" alt="Thumbnail" style="height:90px;border-radius:6px">` : ''}<div class="split"><div><video id="video"${shape} controls muted autoplay playsinline></video>
<p id="state">Connecting…</p><p><button id="sound">Sound on</button> <form id="follow" style="display:inline"><input name="viewer" value="guest_of_the_hut" aria-label="Your name" maxlength="40"> <button>Follow</button></form></p></div>
<div><div id="chat" role="log" aria-label="Chat"></div><form id="say" style="display:flex;gap:6px;margin-top:8px"><input name="text" placeholder="Say something" aria-label="Message" style="flex:1;min-width:0" maxlength="300"><button>Send</button></form></div></div>
<script src="/vendor/mpegts.js"></script>
<script>
const video=document.getElementById('video'),state=document.getElementById('state');let player=null,timer=null;
function start(){
  if(player){player.destroy();player=null}
  player=mpegts.createPlayer({type:'flv',isLive:true,url:'/${name}/live.flv'},{enableStashBuffer:false,liveBufferLatencyChasing:true,liveBufferLatencyMaxLatency:3,liveBufferLatencyMinRemain:0.8});
  player.attachMediaElement(video);player.on(mpegts.Events.ERROR,again);player.on(mpegts.Events.LOADING_COMPLETE,again);player.load();
  video.play().catch(()=>{});
}
function again(){state.textContent='Not on air. Trying again…';clearTimeout(timer);timer=setTimeout(start,1500)}
video.addEventListener('playing',()=>{state.textContent='On air'});
document.getElementById('sound').onclick=()=>{video.muted=!video.muted;document.getElementById('sound').textContent=video.muted?'Sound on':'Sound off';video.play()};
start();
const chat=document.getElementById('chat');
function feed(){const socket=new WebSocket('ws://'+location.host+'/${name}/feed');
socket.onmessage=({data})=>{const e=JSON.parse(data);if(e.type==='live.viewers'){document.title=e.data.viewers+' watching · ${title}';return}if(e.type.startsWith('live.chat.')&&e.type!=='live.chat.message')return;
const row=document.createElement('div'),who=document.createElement('b');who.textContent=e.data.viewer+' ';row.append(who,e.type==='live.chat.message'?e.data.text:e.type.slice(5));chat.append(row);if(chat.children.length>200)chat.firstChild.remove();chat.scrollTop=chat.scrollHeight};
socket.onclose=()=>setTimeout(feed,2000)}
feed();
const post=(path,body)=>fetch('/${name}/'+path,{method:'POST',body:new URLSearchParams(body)});
const follow=document.getElementById('follow'),say=document.getElementById('say');
follow.onsubmit=e=>{e.preventDefault();post('event',{kind:'follow',viewer:follow.viewer.value||'guest'})};
say.onsubmit=e=>{e.preventDefault();if(say.text.value)post('chat',{viewer:follow.viewer.value||'guest',text:say.text.value});say.text.value=''};
</script>`,
  );
}
