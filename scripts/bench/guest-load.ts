/** What guests cost and how late they are: camera to composed frame, one guest's voice to another, and the desk's processor. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { BrowserContext, Page } from 'playwright-core';
import { newSeat } from '../../core/guests/guest-scene';
import { documentOf, recordsOf } from '../../core/show/document';
import { fullPlacements, newLayer } from '../../core/show/stage-edits';
import { PLAIN_SCENE, type AnyRecord, type SceneRecord } from '../../core/show/records';
import { launchBrowser } from '../lib/browser.mjs';
import type { StudioClient } from '../lib/studio-client.mjs';
import { startStudio } from '../lib/studio.mjs';

const SHOW = 'night-signal-box';
const FLASHES = 40;

type Say = (line: object) => void;

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const at = (all: readonly number[], share: number) =>
  Math.round([...all].sort((a, b) => a - b)[Math.floor(all.length * share)] ?? NaN);

/**
 * Devices in place of the browser's own: the picture turns white and a tone sounds for a tenth of a second, by this
 * computer's clock at each full second.
 */
function madeUpDevices(hz: number): void {
  const canvas = document.createElement('canvas');
  canvas.width = 640;
  canvas.height = 360;
  const c = canvas.getContext('2d')!;
  const context = new AudioContext({ sampleRate: 48_000 });
  const tone = new OscillatorNode(context, { frequency: hz });
  const gain = new GainNode(context, { gain: 0 });
  const end = context.createMediaStreamDestination();
  tone.connect(gain).connect(end);
  tone.start();
  const flashes: number[] = [];
  const beeps: number[] = [];
  Object.assign(window, { flashes, beeps });
  let second = 0;
  setInterval(() => {
    const now = performance.timeOrigin + performance.now();
    const into = now % 1000;
    c.fillStyle = into < 200 ? '#fff' : '#000';
    c.fillRect(0, 0, 640, 360);
    if (into < 200 && Math.floor(now / 1000) !== second) {
      second = Math.floor(now / 1000);
      flashes.push(now);
      // Browsers let sound run only after the first click.
      void context.resume();
      gain.gain.setValueAtTime(0.4, context.currentTime);
      gain.gain.setValueAtTime(0, context.currentTime + 0.2);
      beeps.push(now);
    }
  }, 8);
  navigator.mediaDevices.getUserMedia = () => {
    void context.resume();
    return Promise.resolve(
      new MediaStream([...canvas.captureStream(25).getVideoTracks(), ...end.stream.getAudioTracks()]),
    );
  };
}

/** Notes when a canvas of the desk becomes white where the guest is. */
function watchComposed(): void {
  const seen: number[] = [];
  Object.assign(window, { seen });
  const small = document.createElement('canvas');
  small.width = small.height = 8;
  const c = small.getContext('2d', { willReadFrequently: true })!;
  let was = false;
  const look = () => {
    const shown = document.querySelector<HTMLCanvasElement>('.air-picture canvas');
    if (shown) {
      c.drawImage(shown, 0, 0, 8, 8);
      const white = c.getImageData(4, 4, 1, 1).data[0] > 150;
      if (white && !was) seen.push(performance.timeOrigin + performance.now());
      was = white;
    }
    setTimeout(look, 4);
  };
  look();
}

/** Notes when a tone begins in what a guest hears. */
function watchHeard(hz: number): void {
  const heard: number[] = [];
  Object.assign(window, { heard });
  const stream = (document.getElementById('return') as HTMLVideoElement).srcObject as MediaStream;
  const context = new AudioContext({ sampleRate: 48_000, latencyHint: 'interactive' });
  void context.resume();
  const analyser = new AnalyserNode(context, { fftSize: 256 });
  context.createMediaStreamSource(new MediaStream(stream.getAudioTracks())).connect(analyser);
  const samples = new Float32Array(256);
  let was = false;
  const look = () => {
    analyser.getFloatTimeDomainData(samples);
    let re = 0;
    let im = 0;
    for (let i = 0; i < 256; i++) {
      re += samples[i] * Math.cos((2 * Math.PI * hz * i) / 48_000);
      im += samples[i] * Math.sin((2 * Math.PI * hz * i) / 48_000);
    }
    const loud = Math.hypot(re, im) / 128 > 0.05;
    if (loud && !was) heard.push(performance.timeOrigin + performance.now());
    was = loud;
    setTimeout(look, 4);
  };
  look();
}

/** How long after each beginning the next one was noticed, ms; what was missed is left out and counted. */
function delays(begun: readonly number[], noticed: readonly number[]): number[] {
  return begun.flatMap((from) => {
    const next = noticed.find((moment) => moment >= from);
    return next !== undefined && next - from < 950 ? [next - from] : [];
  });
}

export async function guestLoad(say: Say): Promise<void> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const studio = await startStudio({ data, quiet: true });
  const browser = await launchBrowser();
  try {
    const owner = (await studio.owner(`/show/${SHOW}`)) as StudioClient;
    const { records } = (await owner.json('/edits')) as { records: AnyRecord[] };
    const seats = await addSeats(owner, records);
    const page = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
    await page.goto(`${studio.url}show/${SHOW}/air`);
    await page.getByRole('radio', { name: 'Guests' }).click();
    await page.getByRole('radio', { name: 'Scenes', exact: true }).click();
    await page.getByRole('button', { name: /^One guest/ }).click();
    const before = await deskShare(page);
    const first = await join(browser.newContext(), studio, owner, seats[0], 700);
    await page
      .getByRole('region', { name: 'Guest 1', exact: true })
      .getByRole('button', { name: 'Bring on' })
      .click();
    await wait(4000);
    const one = await deskShare(page);
    const second = await join(browser.newContext(), studio, owner, seats[1], 1900);
    await page
      .getByRole('region', { name: 'Guest 2', exact: true })
      .getByRole('button', { name: 'Bring on' })
      .click();
    await wait(4000);
    const two = await deskShare(page);
    await page.evaluate(watchComposed);
    await second.evaluate(watchHeard, 700);
    await wait(FLASHES * 1000);
    const flashes = await figures(first, 'flashes');
    const seen = delays(flashes, await figures(page, 'seen'));
    const heard = delays(await figures(first, 'beeps'), await figures(second, 'heard'));
    say({
      bench: 'guests',
      pictureMs: { median: at(seen, 0.5), p95: at(seen, 0.95), of: seen.length },
      voiceMs: { median: at(heard, 0.5), p95: at(heard, 0.95), of: heard.length },
      deskMainThread: { none: before, one, two },
    });
  } finally {
    await browser.close();
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

const figures = (page: Page, name: string): Promise<number[]> =>
  page.evaluate((of) => (window as unknown as Record<string, number[]>)[of], name);

/** Part of a processor that the desk's page itself takes, over four seconds (Chromium's own figures). */
async function deskShare(page: Page): Promise<number> {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  const busy = async () =>
    (await cdp.send('Performance.getMetrics')).metrics.find(({ name }) => name === 'TaskDuration')!.value;
  const from = await busy();
  await wait(4000);
  const share = (await busy()) - from;
  await cdp.detach();
  return Math.round((share / 4) * 1000) / 1000;
}

/** Two seats, and a scene that is one of them. */
async function addSeats(owner: StudioClient, records: AnyRecord[]): Promise<string[]> {
  let document = documentOf(records);
  const put: AnyRecord[] = [];
  const newId = () => crypto.randomUUID();
  const seats = [0, 1].map(() => {
    const made = newSeat(document, newId);
    put.push(...made);
    document = documentOf([...records, ...put]);
    return made[0].id;
  });
  const scene: SceneRecord = {
    ...{ kind: 'scene', id: newId(), showId: SHOW, name: 'One guest', position: 90 },
    ...PLAIN_SCENE,
  };
  const content = { type: 'input', inputId: seats[0], fit: 'fill' } as const;
  put.push(scene, newLayer(document, scene.id, newId(), 'Guest', content, fullPlacements(document)));
  // Nothing else sounds.
  put.push(
    ...recordsOf(document, 'channel').map((one) => (records.includes(one) ? { ...one, muted: true } : one)),
  );
  await owner.edit({ name: 'Seats', put, removed: [] });
  return seats;
}

async function join(
  context: Promise<BrowserContext>,
  studio: { doorPort: number },
  owner: StudioClient,
  seatId: string,
  hz: number,
): Promise<Page> {
  const { token } = (await (await owner.send('/guest-link', { seatId })).json()) as { token: string };
  const page = await (await context).newPage();
  await page.addInitScript(madeUpDevices, hz);
  await page.goto(`http://127.0.0.1:${studio.doorPort}/#${token}`);
  await page.getByLabel('Your name').fill(`Tone ${hz}`);
  await page.getByRole('button', { name: 'I am ready' }).click();
  await page.waitForFunction(
    () => ((document.getElementById('return') as HTMLVideoElement).srcObject as MediaStream | null)?.active,
  );
  return page;
}
