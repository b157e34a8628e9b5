/** Servers that a studio fetches pictures from, as somebody would run them who means it harm. */
import http from 'node:http';
import net, { type AddressInfo } from 'node:net';
import type { Duplex } from 'node:stream';
import { sampleInput } from '../../core/show/sample-show';
import type { InputSource } from '../../core/show/records';
import { SHOW } from '../lib/studio-fixture';
import { pause } from '../lib/waits';
import type { Dice } from './dice';
import { tryIt, type Border, type Target } from './target';

/** Stands in every address that is given; nowhere else may it turn up. */
export const FAR_SECRET = 'far-end-hush-4711';
const FEED = 'in-attacked-feed';
const PAGE = 'in-attacked-page';
/** How long one is looked at. */
const FEED_LOOK_MS = 900;
const PAGE_LOOK_MS = 1800;

type Play = (response: http.ServerResponse, dice: Dice) => void;

const playlist = (lines: readonly string[]) =>
  ['#EXTM3U', '#EXT-X-VERSION:3', '#EXT-X-TARGETDURATION:2', ...lines].join('\n');
const segment = (url: string) => `#EXTINF:2,\n${url}`;
const FLV_HEAD = Buffer.from('464c5601050000000900000000', 'hex');

/** Endless, until whoever reads it goes. */
function endless(response: http.ServerResponse, chunk: () => Buffer, everyMs: number): void {
  const timer = setInterval(() => response.write(chunk()), everyMs);
  response.on('close', () => clearInterval(timer));
}

class FarEnd {
  readonly #server: http.Server;
  readonly #garbage: net.Server;
  readonly #canary: http.Server;
  readonly #sockets = new Set<Duplex>();
  port = 0;
  garbagePort = 0;
  canaryPort = 0;
  /** What of it was fetched at all. */
  readonly asked = new Set<string>();
  /** What was asked of a place that nobody allowed. */
  readonly strayed: string[] = [];

  constructor(readonly dice: Dice) {
    this.#server = http.createServer((request, response) => {
      response.on('error', () => response.destroy());
      const [, name = ''] = (request.url ?? '').split('/');
      this.asked.add(name);
      const play = this.plays[name] ?? this.plays.garbage;
      play(response, dice);
    });
    this.#garbage = net.createServer((socket) => {
      this.#sockets.add(socket);
      socket.on('error', () => socket.destroy());
      socket.on('close', () => this.#sockets.delete(socket));
      socket.on('data', () => socket.write(dice.bytes(300)));
    });
    this.#canary = http.createServer((request, response) => {
      this.strayed.push(request.url ?? '');
      response.end('hush');
    });
  }

  async open(): Promise<this> {
    for (const server of [this.#server, this.#garbage, this.#canary])
      await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    [this.port, this.garbagePort, this.canaryPort] = [this.#server, this.#garbage, this.#canary].map(
      (server) => (server.address() as AddressInfo).port,
    );
    return this;
  }

  close(): void {
    for (const socket of this.#sockets) socket.destroy();
    for (const server of [this.#server, this.#canary]) {
      server.closeAllConnections();
      server.close();
    }
    this.#garbage.close();
  }

  /** Where nobody said that it may go. */
  #away = () => `http://127.0.0.1:${this.canaryPort}/away`;

  readonly plays: Readonly<Record<string, Play>> = {
    garbage: (response, dice) => response.end(dice.bytes(3000)),
    spoiledPlaylist: (response, dice) =>
      response.end(dice.damaged(Buffer.from(playlist([segment('a.ts'), segment('b.ts'), '#EXT-X-ENDLIST'])))),
    playlistAway: (response) =>
      response.end(playlist([segment(this.#away()), segment('file:///etc/passwd')])),
    playlistOfItself: (response) =>
      response.end(playlist(['#EXT-X-STREAM-INF:BANDWIDTH=1', `/playlistOfItself/${Math.random()}.m3u8`])),
    longPlaylist: (response) =>
      response.end(playlist(Array.from({ length: 20_000 }, (_, i) => segment(`${i}.ts`)))),
    redirectAway: (response) => response.writeHead(302, { location: this.#away() }).end(),
    redirectRound: (response) => response.writeHead(302, { location: '/redirectRound/x.flv' }).end(),
    redirectToFile: (response) => response.writeHead(302, { location: 'file:///etc/passwd' }).end(),
    flvGarbage: (response, dice) => {
      response.write(FLV_HEAD);
      endless(response, () => dice.bytes(5000), 20);
    },
    drip: (response, dice) => endless(response, () => dice.bytes(1), 50),
    flood: (response, dice) => {
      const chunk = dice.bytes(200_000);
      endless(response, () => chunk, 5);
    },
    nothing: () => undefined,
    cutOff: (response) => {
      response.writeHead(200, { 'content-length': '100000' });
      response.write('half');
      setTimeout(() => response.destroy(), 50);
    },
    loop: (response) => this.#page(response, '<script>for(;;);</script>'),
    eats: (response) =>
      this.#page(
        response,
        '<script>const a=[];setInterval(()=>a.push(new Array(1e6).fill(a.length)),10)</script>',
      ),
    opens: (response) =>
      this.#page(response, '<script>setInterval(()=>{open("about:blank");open("/opens")},20)</script>'),
    asks: (response) =>
      this.#page(
        response,
        '<script>setInterval(()=>{alert(1);confirm(2);prompt(3);print()},10);onbeforeunload=()=>1</script>',
      ),
    fetchesAway: (response) =>
      this.#page(
        response,
        `<img src="${this.#away()}"><iframe src="${this.#away()}"></iframe><script>fetch("${this.#away()}",{mode:"no-cors"}).catch(()=>0);new WebSocket("${this.#away().replace('http', 'ws')}");navigator.sendBeacon("${this.#away()}","x");location="${this.#away()}"</script>`,
      ),
    leavesForFile: (response) =>
      this.#page(response, '<script>location="file:///etc/passwd";open("chrome://crash")</script>'),
    deep: (response) => this.#page(response, '<div>'.repeat(30_000)),
    hugeCanvas: (response) =>
      this.#page(
        response,
        '<canvas width=32000 height=32000></canvas><script>document.querySelector("canvas").getContext("2d").fillRect(0,0,32000,32000)</script>',
      ),
    downloads: (response, dice) =>
      response
        .writeHead(200, { 'content-disposition': 'attachment; filename="../../x"' })
        .end(dice.bytes(2000)),
    endlessPage: (response) => {
      response.writeHead(200, { 'content-type': 'text/html' });
      endless(response, () => Buffer.from('<p>more</p>'.repeat(500)), 10);
    },
    oddHeaders: (response) =>
      response.writeHead(200, { 'content-type': 'text/html', 'x-much': 'y'.repeat(7000) }).end('x'),
  };

  #page(response: http.ServerResponse, body: string): void {
    response.writeHead(200, { 'content-type': 'text/html' }).end(`<body>${body}</body>`);
  }
}

const OF_FEEDS = [
  ...['garbage', 'spoiledPlaylist', 'playlistAway', 'playlistOfItself', 'longPlaylist', 'redirectAway'],
  ...['redirectRound', 'redirectToFile', 'flvGarbage', 'drip', 'flood', 'nothing', 'cutOff', 'oddHeaders'],
];
const OF_PAGES = [
  ...['loop', 'eats', 'opens', 'asks', 'fetchesAway', 'leavesForFile', 'deep', 'hugeCanvas', 'downloads'],
  ...['endlessPage', 'redirectAway', 'redirectRound', 'redirectToFile', 'nothing', 'cutOff', 'garbage'],
];

/** Looks at an input for a while, as the desk does. */
async function lookAt(target: Target, id: string, ms: number): Promise<void> {
  const ended = new AbortController();
  const looking = target.owner
    .ask(target.studio.url + `files/inputs/${id}`, { signal: ended.signal })
    .then((response) => response.arrayBuffer())
    .catch(() => undefined);
  await pause(ms);
  ended.abort();
  await looking;
}

async function withFarEnd(target: Target, dice: Dice, work: (end: FarEnd) => Promise<void>): Promise<void> {
  const end = await new FarEnd(dice).open();
  try {
    const page: InputSource = {
      type: 'page',
      width: 320,
      height: 180,
      fps: 5,
      allowed: [`127.0.0.1:${end.port}`],
    };
    await target.owner.edit({
      name: 'Attacked',
      put: [
        sampleInput(FEED, { showId: SHOW, source: { type: 'feed', way: 'fetched' } }),
        sampleInput(PAGE, { showId: SHOW, source: page }),
      ],
      removed: [],
    });
    await work(end);
    for (const name of end.asked) target.played.add(name);
    if (end.strayed.length > 0) target.broken.push(`went where nobody allowed it: ${end.strayed.join(' ')}`);
  } finally {
    await target.owner.edit({ name: 'Attacked', put: [], removed: [FEED, PAGE] });
    end.close();
  }
}

const address = (target: Target, inputId: string, url: string) =>
  tryIt(target, () => target.owner.form('/input-address', { intent: 'set', inputId, address: url }));

export const feeds: Border = {
  name: 'fetched feeds',
  burst: (target, dice) =>
    withFarEnd(target, dice, async (end) => {
      for (let i = 0; i < 3; i++) {
        const { port, garbagePort } = end;
        const name = dice.pick(OF_FEEDS);
        const url = dice.chance(0.75)
          ? `http://127.0.0.1:${port}/${name}/${dice.pick(['night.m3u8', 'night.flv', 'x'])}?token=${FAR_SECRET}`
          : `${dice.pick(['rtsp', 'rtmp', 'https', 'rtsps'])}://somebody:${FAR_SECRET}@127.0.0.1:${garbagePort}/x`;
        await address(target, FEED, url);
        await lookAt(target, FEED, FEED_LOOK_MS);
        await address(target, FEED, dice.text().toWellFormed());
      }
    }),
};

export const pages: Border = {
  name: 'rendered pages',
  burst: (target, dice) =>
    withFarEnd(target, dice, async (end) => {
      for (let i = 0; i < 2; i++) {
        await address(
          target,
          PAGE,
          `http://127.0.0.1:${end.port}/${dice.pick(OF_PAGES)}/?token=${FAR_SECRET}`,
        );
        await lookAt(target, PAGE, PAGE_LOOK_MS);
      }
    }),
};
