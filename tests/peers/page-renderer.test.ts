/** Web pages rendered by a real browser: pictures with their transparency, and what a page may not do. */
import { readFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import pino from 'pino';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { freePort } from '../../scripts/lib/studio.mjs';
import type { InputStreamStatus } from '../../protocol/input-stream';
import { canBeNobody } from '../../server/inputs/behind-others';
import { PageBrowser } from '../../server/inputs/page-browser';
import {
  PAGE_LIMITS,
  PageRenderer,
  type PagePicture,
  type PageSettings,
} from '../../server/inputs/page-renderer';
import { eventually } from '../lib/relay-process';
import { pause } from '../lib/waits';

const browser = new PageBrowser(pino({ level: 'silent' }));
let server: http.Server;
let port = 0;
/** What was asked for, and how. */
const asked: string[] = [];
/** The page at each path; a number is a status, an address a redirect. */
const pages: Record<string, string> = {
  '/card': '<body style="margin:0"><div style="width:50px;height:100px;background:#ff8000"></div></body>',
  '/moves':
    '<body style="margin:0"><div id=a style="width:50px;height:100px"></div><script>let n=0;setInterval(()=>{a.style.background=n++%2?"#f00":"#00f"},20)</script></body>',
  // Changes twelve times, and then stands still in another colour.
  '/rests':
    '<body style="margin:0"><div id=a style="width:50px;height:100px"></div><script>setTimeout(()=>{let n=0;const t=setInterval(()=>{a.style.background=n++%2?"#f00":"#00f";if(n<12)return;clearInterval(t);a.style.background="#0f0"},16)},600)</script></body>',
  '/dialog':
    '<body style="margin:0;background:#0f0"><script>alert("stop");confirm("really?");window.open("/card");document.body.dataset.past=1;fetch("/past-dialogs")</script></body>',
  '/hangs': '<body style="margin:0;background:#0f0"><script>setTimeout(()=>{for(;;);},700)</script></body>',
  // The script runs before the page has loaded.
  '/hangs-at-once': '<body style="margin:0;background:#0f0"><script>for(;;);</script></body>',
  // Computes for a while, three times, and is done.
  '/slow':
    '<body style="margin:0;background:#0f0"><script>let n=0,sum=0;const work=()=>{for(let i=0;i<1.2e8;i++)sum+=i%7;if(++n<3)setTimeout(work,20);else document.body.style.background="#00f"};setTimeout(work,300)</script></body>',
  '/eats':
    '<body style="margin:0;background:#0f0"><script>const all=[];setInterval(()=>{all.push(new Array(2e6).fill(Math.random()))},20)</script></body>',
  '/crosses': '<body style="margin:0;background:#0f0"><img src="http://OTHER/secret"></body>',
};

beforeAll(async () => {
  server = http.createServer((request, response) => {
    asked.push(request.url ?? '');
    const path = (request.url ?? '').split('?')[0];
    if (path === '/away') response.writeHead(302, { location: `http://localhost:${port}/card` }).end();
    else if (path === '/gone') response.writeHead(404).end('gone');
    else if (path === '/never') return;
    else if (pages[path])
      response
        .writeHead(200, { 'content-type': 'text/html' })
        .end(pages[path].replace('OTHER', `localhost:${port}`));
    else response.writeHead(204).end();
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  port = (server.address() as AddressInfo).port;
});
let open: PageRenderer | null = null;
afterEach(async () => {
  await open?.close();
  open = null;
  asked.length = 0;
});
afterAll(async () => {
  await browser.kill();
  server.closeAllConnections();
  server.close();
});

/** Renders a page of the server at 127.0.0.1, which is allowed unless told otherwise. */
function render(path: string, more: Partial<PageSettings> = {}, limits: Partial<typeof PAGE_LIMITS> = {}) {
  const pictures: PagePicture[] = [];
  const statuses: InputStreamStatus[] = [];
  open = new PageRenderer(
    {
      url: `http://127.0.0.1:${port}${path}`,
      width: 100,
      height: 100,
      fps: 10,
      allowed: [`127.0.0.1:${port}`],
      ...more,
    },
    browser,
    {
      onPicture: (picture) => pictures.push(picture),
      onSound: () => {},
      onStatus: (status) => statuses.push(status),
    },
    {
      ...PAGE_LIMITS,
      check: 300,
      said: 1000,
      answer: 2500,
      again: [100, 200, 400],
      againHung: [100, 200, 400],
      ...limits,
    },
  );
  return { renderer: open, pictures, statuses };
}

function pixelsOf(png: Uint8Array): (x: number, y: number) => number[] {
  const { stdout } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-f', 'png_pipe', '-i', 'pipe:0', '-f', 'rawvideo', '-pix_fmt', 'rgba', 'pipe:1'],
    { input: png },
  );
  return (x, y) => [...stdout.subarray((y * 100 + x) * 4, (y * 100 + x) * 4 + 4)];
}

describe('a page', () => {
  test('is rendered on a transparent ground', async () => {
    const { renderer, pictures } = render('/card');
    await eventually(() => renderer.status.state === 'running' && pictures.length > 0, 20_000);
    await eventually(() => pixelsOf(renderer.picture!.png)(25, 50)[0] > 200);
    const at = pixelsOf(renderer.picture!.png);
    expect(at(25, 50)).toEqual([255, 128, 0, 255]);
    expect(at(75, 50)[3]).toBe(0);
    // A browser that has just begun may answer late once, which is said and then taken back.
    await eventually(() => renderer.status.message === '');
    expect(renderer.status).toEqual({ state: 'running', message: '', blocked: [] });
  });

  test.runIf(canBeNobody())('runs as a user who owns nothing, and is told nothing of ours', async () => {
    process.env.DOLOMITE_HUSH = 'hush-hush';
    const look = await browser.look();
    const pids = look.processes.map(({ id }) => id);
    expect(pids.length).toBeGreaterThan(1);
    for (const pid of pids) {
      const status = readFileSync(`/proc/${pid}/status`, 'utf8');
      expect([pid, /^Uid:\t(\d+)/m.exec(status)![1]]).toEqual([pid, '65534']);
      expect(readFileSync(`/proc/${pid}/environ`, 'utf8')).not.toMatch(/hush-hush|DOLOMITE/);
    }
    delete process.env.DOLOMITE_HUSH;
  });

  test('that moves is looked at no oftener than it is told', async () => {
    const { pictures } = render('/moves', { fps: 5 });
    await eventually(() => pictures.length > 2, 20_000);
    const [from, beganMs] = [pictures.length, performance.now()];
    await pause(2000);
    const came = pictures.length - from;
    expect(came).toBeGreaterThan(2);
    // By what the pause took in truth; two were under way when it began, and where the machine stood still for a moment the
    // page is taken for one that rests, and asked anew. Looked at as often as it changes it would be fifty a second.
    expect(came - 4).toBeLessThan((1.5 * 5 * (performance.now() - beganMs)) / 1000);
  });

  test('that moves and comes to rest is shown as it rests', async () => {
    const { renderer, pictures } = render('/rests', { fps: 2 });
    await eventually(() => pictures.length > 0, 20_000);
    await eventually(
      () =>
        pixelsOf(renderer.picture!.png)(25, 50)[1] > 200 && pixelsOf(renderer.picture!.png)(25, 50)[0] < 50,
    );
    // At rest there is nothing to tell.
    await pause(2000);
    const told = pictures.length;
    await pause(2000);
    expect(pictures.length).toBe(told);
  });

  test('goes on past dialogs and windows it opens', async () => {
    const { renderer } = render('/dialog');
    await eventually(() => asked.includes('/past-dialogs'), 20_000);
    await eventually(() => renderer.status.state === 'running');
  });
});

describe('a page is kept away', () => {
  test('from private addresses that were not allowed', async () => {
    const { renderer, statuses } = render('/card', { allowed: [] });
    await eventually(() => renderer.status.state === 'failed', 20_000);
    // What the browser shows in its place is nobody's to see.
    expect(renderer.picture).toBeNull();
    expect(statuses.map(({ state }) => state)).not.toContain('running');
    expect(renderer.status.message).toMatch(/your own network.*allowed/);
    expect(renderer.status.blocked).toEqual([`127.0.0.1:${port}`]);
    expect(asked).toEqual([]);
  });

  test('when it is led there by a redirect', async () => {
    const { renderer } = render('/away');
    await eventually(() => renderer.status.blocked.length > 0, 20_000);
    expect(renderer.status.blocked).toEqual([`localhost:${port}`]);
    expect(asked.filter((path) => path === '/card')).toEqual([]);
  });

  test('when its parts come from there; the rest of it is shown', async () => {
    const { renderer, pictures } = render('/crosses');
    await eventually(() => renderer.status.blocked.includes(`localhost:${port}`), 20_000);
    await eventually(() => renderer.status.state === 'running' && pictures.length > 0);
    expect(asked).not.toContain('/secret');
  });

  test('and one allowed place is one place', async () => {
    const { renderer } = render('/away', { allowed: [`127.0.0.1:${port}`, `localhost:${port}`] });
    await eventually(() => renderer.status.state === 'running', 20_000);
    expect(renderer.status.blocked).toEqual([]);
  });
});

describe('a page that', () => {
  test('hangs is begun anew, and what it showed stays', async () => {
    const { renderer, statuses } = render('/hangs');
    await eventually(() => statuses.some((s) => /hangs/.test(s.message)), 20_000);
    expect(renderer.picture).not.toBeNull();
    await eventually(() => asked.filter((path) => path === '/hangs').length > 1, 20_000);
  });

  test.skipIf(process.platform === 'win32')(
    'hangs is held back until it is ended: it leaves the processor to others',
    async () => {
      const { statuses } = render('/hangs', {}, { answer: 9000 });
      const session = await (await browser.get()).newBrowserCDPSession();
      const pages = async () => (await session.send('SystemInfo.getProcessInfo')).processInfo;
      /** The share of one processor that the busiest page takes. */
      const share = async (ms: number) => {
        const [before, begun] = [await pages(), performance.now()];
        await pause(ms);
        const [after, seconds] = [await pages(), (performance.now() - begun) / 1000];
        const took = after
          .filter((p) => p.type === 'renderer')
          .map(({ id, cpuTime }) => cpuTime - (before.find((p) => p.id === id)?.cpuTime ?? 0));
        return Math.max(...took) / seconds;
      };
      await eventually(() => statuses.some((s) => /does not answer/.test(s.message)), 20_000);
      // A tenth of the time; over one short look it may be a little more, all of it would be 1.
      expect(await share(3000)).toBeLessThan(0.4);
      await eventually(() => statuses.some((s) => /hangs/.test(s.message)), 20_000);
      await session.detach();
    },
  );

  test.skipIf(process.platform === 'win32')('hangs leaves another one alone that moves', async () => {
    const moving = render('/moves').renderer;
    try {
      const { statuses } = render('/hangs', {}, { answer: 60_000 });
      await eventually(() => statuses.some((s) => /does not answer/.test(s.message)), 20_000);
      // Ten a second are asked for; held back it would show two, and take nine seconds for so many.
      let changes = 0;
      let last = moving.picture;
      await eventually(() => {
        if (moving.picture !== last) changes += 1;
        last = moving.picture;
        return changes > 18;
      }, 5000);
      expect(statuses.some((s) => /hangs/.test(s.message))).toBe(false);
    } finally {
      await moving.close();
    }
  });

  test('hangs before it has loaded is held back too, and it is said that it hangs', async () => {
    const { statuses } = render('/hangs-at-once', {}, { load: 5000 });
    await eventually(() => statuses.some((s) => /hangs/.test(s.message)), 20_000);
    await eventually(() => asked.filter((path) => path === '/hangs-at-once').length > 1, 20_000);
    expect(statuses.some((s) => s.state === 'running')).toBe(false);
  });

  test('is only slow is held back meanwhile, and gets done', async () => {
    const { renderer, statuses } = render('/slow', {}, { answer: 40_000 });
    await eventually(
      () => renderer.picture !== null && pixelsOf(renderer.picture.png)(50, 50)[2] > 200,
      120_000,
    );
    await eventually(() => renderer.status.message === '', 5000);
    expect(statuses.some((s) => /hangs/.test(s.message))).toBe(false);
    expect(asked.filter((path) => path === '/slow')).toHaveLength(1);
  });

  test('eats memory is ended', async () => {
    const { statuses } = render('/eats', {}, { heapBytes: 100 * 1024 * 1024 });
    await eventually(() => statuses.some((s) => /memory|crashed/.test(s.message)), 25_000);
  });

  test('never loads says so, and is tried again', async () => {
    const { statuses } = render('/never', {}, { load: 800 });
    await eventually(() => statuses.filter((s) => /in time/.test(s.message)).length > 1, 20_000);
  });

  test('is not there says what the server said', async () => {
    const { renderer } = render('/gone');
    await eventually(() => renderer.status.state === 'failed', 20_000);
    expect(renderer.status.message).toMatch(/404/);
  });

  test('has nobody at its address says so', async () => {
    const nobody = await freePort();
    const { renderer } = render('/card', {
      url: `http://127.0.0.1:${nobody}/`,
      allowed: [`127.0.0.1:${nobody}`],
    });
    await eventually(() => renderer.status.state === 'failed', 20_000);
    expect(renderer.status.message).toMatch(/nothing answers/);
  });
});
