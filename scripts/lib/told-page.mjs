// A web page over a scene that does what it is told: stands still, moves, dies, or computes without end, and does so again
// each time it is begun anew.
import http from 'node:http';
import path from 'node:path';
import Sqlite from 'better-sqlite3';
import { killRenderers } from './process-usage.mjs';

/** A card; it asks every quarter of a second what to do. */
const PAGE = `<!doctype html><body style="margin:0"><div id="card" style="position:absolute;left:0;top:8vh;width:30vw;height:20vh;background:#35506b"></div><script>
let told = 'stand';
setInterval(() => { if (told === 'moves') card.style.left = 20 + 20 * Math.sin(performance.now() / 900) + 'vw'; }, 40);
setInterval(async () => {
  told = await (await fetch('/told')).text();
  if (told === 'hangs') for (;;);
}, 250);
</script></body>`;

const wait = (seconds) => new Promise((resolve) => setTimeout(resolve, seconds * 1000));

/**
 * @param {object} studio
 * @param {'hangs' | 'moves' | 'dies'} studio.does in the turns with it; in the others it stands still
 * @param {number} studio.web the process whose browser renders it
 * @param {import('./studio-client.mjs').StudioClient} studio.client the owner's, at the show
 * @param {string} studio.data folder of the studio's data
 * @param {string} studio.showId
 * @param {(name: string, put: object[]) => Promise<void>} studio.edit
 * @returns what `byTurns` needs to know of it, how often it was begun, and its end
 */
export async function toldPage({ does, web, client, data, showId, edit }) {
  let told = 'stand';
  let asked = 0;
  let begun = 0;
  const server = http.createServer((request, response) => {
    if (request.url === '/told') asked += 1;
    else if (request.url === '/') begun += 1;
    response.writeHead(200, { 'content-type': request.url === '/told' ? 'text/plain' : 'text/html' });
    response.end(request.url === '/told' ? told : PAGE);
  });
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address();

  const id = 'input-told-page';
  await edit('Page', [
    {
      kind: 'input',
      id,
      showId,
      name: 'Page',
      position: 99,
      source: { type: 'page', width: 1280, height: 720, fps: 20, allowed: [`127.0.0.1:${port}`] },
      crop: { left: 0, top: 0, right: 0, bottom: 0 },
      turnDeg: 0,
      mirrored: false,
      keepReady: true,
      standInId: null,
      key: null,
      gradeId: null,
    },
  ]);
  const answer = await client.form('/input-address', {
    intent: 'set',
    inputId: id,
    address: `http://127.0.0.1:${port}/`,
  });
  if (!answer.ok) throw new Error((await answer.json()).message);
  // Over the game's picture: as that is placed.
  const database = new Sqlite(path.join(data, 'dolomite.sqlite'), { readonly: true });
  const like = database
    .prepare("SELECT data FROM layer WHERE scene_id = 'sc-game' ORDER BY position LIMIT 1")
    .get();
  database.close();
  await edit('Page over the game', [
    {
      ...JSON.parse(like.data),
      kind: 'layer',
      id: 'layer-told-page',
      showId,
      name: 'Page',
      position: 99,
      sceneId: 'sc-game',
      groupId: null,
      content: { type: 'input', inputId: id, fit: 'fill' },
    },
  ]);
  const asksAgain = async () => {
    for (const before = asked; asked === before;) await wait(0.2);
  };
  const dieAgain = async () => {
    for (let n = 0; n < 3; n++) {
      killRenderers(web);
      await wait(9);
    }
  };
  return {
    /** Once it is there, and its browser has started. */
    async ready() {
      await asksAgain();
      await wait(8);
    },
    /** Half a minute each; how it begins counts too. */
    turns: {
      each: 30,
      uncounted: 0,
      settle: { with: 0, without: 8 },
      begin() {
        if (does === 'dies') return [dieAgain()];
        told = does;
        return [];
      },
      async end() {
        told = 'stand';
        await asksAgain();
      },
    },
    /** How often it was begun. */
    begun: () => begun,
    close() {
      server.closeAllConnections();
      server.close();
    },
  };
}
