/** What web pages play, as a real browser plays it: by Web Audio, by media elements, in frames within frames. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { sidesOf } from '../../core/sound/downmix';
import { PageBrowser } from '../../server/inputs/page-browser';
import { PageRenderer, type PagePicture } from '../../server/inputs/page-renderer';
import type { HeardSound } from '../../server/inputs/page-sound';
import { meanColour } from '../lib/mean-colour';
import { eventually } from '../lib/relay-process';
import { pause } from '../lib/waits';

const RATE = 48_000;
const browser = new PageBrowser(pino({ level: 'silent' }));
const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-tones-'));
let server: http.Server;
let elsewhere: http.Server;
const portOf = (of: http.Server) => (of.address() as AddressInfo).port;

const TONE = (hz: number, to = 'c.destination') =>
  `<script>const c=new AudioContext(),o=c.createOscillator(),g=c.createGain();o.frequency.value=${hz};g.gain.value=.5;o.connect(g);g.connect(${to});o.start();</script>`;
const pages: Record<string, () => string> = {
  '/web-audio': () => `<body>${TONE(440)}`,
  '/stops': () => `<body>${TONE(440)}<script>setTimeout(()=>g.disconnect(c.destination),3000)</script>`,
  '/element': () => '<body><audio autoplay loop src="/1000.wav"></audio>',
  '/by-script': () =>
    '<body><script>const a=new Audio("/1000.wav");a.loop=true;a.volume=.25;a.play()</script>',
  '/muted': () => '<body><video muted autoplay loop src="/1000.wav"></video>',
  // The page takes its element into a context of its own: it is heard once, not twice.
  '/own-context': () =>
    '<body><audio id=a autoplay loop src="/1000.wav"></audio><script>setTimeout(()=>{const c=new AudioContext();c.createMediaElementSource(a).connect(c.destination)},1500)</script>',
  '/frames': () =>
    `<body><iframe src="/web-audio"></iframe><iframe src="http://localhost:${portOf(server)}/element"></iframe>`,
  '/another-host': () =>
    `<body><audio autoplay loop src="http://127.0.0.1:${portOf(elsewhere)}/1000.wav"></audio>`,
  '/silent': () => '<body style="background:#fff">nothing to hear',
  '/claps': () =>
    `<body style="margin:0;background:#000">${TONE(1000, 'h')}`
      .replace(
        'o.start()',
        'h.gain.value=0;h.connect(c.destination);o.start();setInterval(()=>{document.body.style.background="#fff";h.gain.value=1;setTimeout(()=>{document.body.style.background="#000";h.gain.value=0},200)},1000)',
      )
      .replace('const c=new AudioContext()', 'const c=new AudioContext(),h=c.createGain()'),
};

function serve(): http.Server {
  return http.createServer((request, response) => {
    const page = pages[request.url ?? ''];
    if (page) response.writeHead(200, { 'content-type': 'text/html' }).end(page());
    else if (request.url === '/1000.wav')
      response
        .writeHead(200, { 'content-type': 'audio/wav' })
        .end(readFileSync(path.join(folder, '1000.wav')));
    else response.writeHead(204).end();
  });
}

beforeAll(async () => {
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'sine=frequency=1000:duration=8', '-af', 'volume=12dB'],
    path.join(folder, '1000.wav'),
  ]);
  [server, elsewhere] = [serve(), serve()];
  for (const one of [server, elsewhere])
    await new Promise<void>((resolve) => one.listen(0, '127.0.0.1', resolve));
});
let open: PageRenderer | null = null;
afterEach(async () => {
  await open?.close();
  open = null;
});
afterAll(async () => {
  await browser.kill();
  for (const one of [server, elsewhere]) {
    one.closeAllConnections();
    one.close();
  }
  rmSync(folder, { recursive: true, force: true });
});

function hear(page: string) {
  const sounds: HeardSound[] = [];
  const pictures: PagePicture[] = [];
  open = new PageRenderer(
    {
      url: `http://127.0.0.1:${portOf(server)}${page}`,
      ...{ width: 100, height: 100, fps: 30 },
      allowed: [
        `127.0.0.1:${portOf(server)}`,
        `localhost:${portOf(server)}`,
        `127.0.0.1:${portOf(elsewhere)}`,
      ],
    },
    browser,
    {
      onPicture: (picture) => pictures.push(picture),
      onSound: (sound) => sounds.push(sound),
      onStatus: () => {},
    },
  );
  return { renderer: open, sounds, pictures };
}

/** Amplitude of a tone in the last half second that was heard. */
function tone(sounds: readonly HeardSound[], hz: number): number {
  const left = sounds.slice(-12).flatMap(({ samples }) => [...sidesOf(samples)[0]]);
  let [re, im] = [0, 0];
  left.forEach((v, i) => {
    re += v * Math.cos((2 * Math.PI * hz * i) / RATE);
    im += v * Math.sin((2 * Math.PI * hz * i) / RATE);
  });
  return (2 * Math.hypot(re, im)) / Math.max(1, left.length);
}
const sounding = (sounds: readonly HeardSound[], hz: number) =>
  eventually(() => sounds.length > 24 && tone(sounds, hz) > 0.1, 30_000);

describe('a page that plays', () => {
  test('by Web Audio is heard as loud as it plays, without a tear', async () => {
    const { sounds } = hear('/web-audio');
    await sounding(sounds, 440);
    await eventually(() => tone(sounds, 440) > 0.47);
    expect(tone(sounds, 440)).toBeLessThan(0.53);
    // One piece follows the other to the sample.
    const last = sounds.slice(-10);
    for (let i = 1; i < last.length; i++) {
      const frames = last[i - 1].samples.length / 4;
      expect(last[i].atMs - last[i - 1].atMs).toBeCloseTo((frames / RATE) * 1000, 1);
    }
  });

  test('and stops is silent, and then says nothing more', async () => {
    const { sounds } = hear('/stops');
    await sounding(sounds, 440);
    await eventually(() => tone(sounds, 440) < 0.001);
    await eventually(async () => {
      const before = sounds.length;
      await pause(1500);
      return sounds.length === before;
    }, 30_000);
  });

  test.each(['/element', '/own-context'])('a file by an element (%s) is heard once', async (page) => {
    const { sounds } = hear(page);
    await sounding(sounds, 1000);
    // For a while: the page takes it over in between.
    await eventually(() => sounds.length > 120);
    expect(tone(sounds, 1000)).toBeGreaterThan(0.4);
    expect(tone(sounds, 1000)).toBeLessThan(0.6);
  });

  test('an element that is nowhere on the page, as loud as it is set', async () => {
    const { sounds } = hear('/by-script');
    await sounding(sounds, 1000);
    expect(tone(sounds, 1000)).toBeLessThan(0.16);
  });

  test('in two frames, of which one is from another origin, is heard together', async () => {
    const { sounds } = hear('/frames');
    await eventually(() => sounds.length > 24 && tone(sounds, 440) > 0.4 && tone(sounds, 1000) > 0.4);
  });

  test.each(['/muted', '/another-host', '/silent'])(
    'nothing for anybody to hear (%s) says nothing',
    async (page) => {
      const { renderer, sounds, pictures } = hear(page);
      await eventually(() => renderer.status.state === 'running' && pictures.length > 0);
      await eventually(() => renderer.status.message === '');
      expect(sounds.filter(({ samples }) => samples.some((v) => v !== 0))).toEqual([]);
    },
  );

  test('together with what it shows has one time for both', async () => {
    const { sounds, pictures } = hear('/claps');
    const begins = () => {
      const found: number[] = [];
      let quiet = true;
      for (const { atMs, samples } of sounds) {
        const [left] = sidesOf(samples);
        const at = left.findIndex((v) => Math.abs(v) > 0.1);
        if (at >= 0 && quiet) found.push(atMs + (at / RATE) * 1000);
        quiet = at < 0;
      }
      return found;
    };
    const white: boolean[] = [];
    /** How much later each clap is heard than it is seen, ms, in their order. */
    const offsets = () => {
      // Each picture is looked at once: that takes a program.
      for (const { png } of pictures.slice(white.length)) white.push(meanColour(png)[0] > 128);
      const heard = begins();
      return white.flatMap((is, i) => {
        if (!is || i === 0 || white[i - 1]) return [];
        const beep = heard.find((at) => Math.abs(at - pictures[i].atMs) < 500);
        return beep === undefined ? [] : [beep - pictures[i].atMs];
      });
    };
    // A machine that stands still sees or hears one late; where the two had different times, none would ever fit. Within 60 ms
    // nobody notices (EBU R 37).
    let last: number[] = [];
    await eventually(() => {
      last = offsets().slice(-5);
      return last.length === 5 && last.filter((ms) => Math.abs(ms) < 60).length >= 4;
    }, 90_000).catch((error: unknown) => {
      throw new Error(
        `the last claps were heard ${last.map(Math.round).join(', ')} ms after they were seen`,
        {
          cause: error,
        },
      );
    });
  });
});
