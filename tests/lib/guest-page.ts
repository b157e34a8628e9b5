/** Guests of tests: a browser of their own, with a camera that shows one colour and a microphone that hears one tone. */
import { execFileSync } from 'node:child_process';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { growing, type StudioFixture } from './studio-fixture';

/** What a guest's camera and microphone give. */
export interface Look {
  /** As ffmpeg writes it: `0xrrggbb`. */
  colour: string;
  hz: number;
}

/** A browser whose devices give just that, for as long as it runs. */
export function guestBrowser(folder: string, { colour, hz }: Look): Promise<Browser> {
  const video = path.join(folder, `camera-${hz}.mjpeg`);
  const audio = path.join(folder, `microphone-${hz}.wav`);
  const make = (args: string) => execFileSync('ffmpeg', `-v error -y ${args}`.split(' '));
  make(`-f lavfi -i color=c=${colour}:size=640x360:rate=25 -t 2 -c:v mjpeg -q:v 3 ${video}`);
  // Low enough to leave the limiter alone.
  make(`-f lavfi -i sine=frequency=${hz}:sample_rate=48000:duration=10 -af volume=1.5 -ac 1 ${audio}`);
  return launchBrowser({
    args: [`--use-file-for-fake-video-capture=${video}`, `--use-file-for-fake-audio-capture=${audio}`],
  }) as Promise<Browser>;
}

/** A guest's page at the door of this computer, as large as a phone. */
export async function guestAt(fixture: StudioFixture, browser: Browser, link: string): Promise<Page> {
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    permissions: ['camera', 'microphone'],
  });
  const page = await context.newPage();
  growing(page);
  page.on('pageerror', (error) => fixture.pageErrors.push(error.message));
  await page.goto(link);
  return page;
}

/** Comes in with headphones on, so that no browser bends the tone. */
export async function comeIn(page: Page, name: string): Promise<void> {
  await page.getByLabel('I wear headphones').check();
  await page.getByLabel('Your name').fill(name);
  await page.getByRole('button', { name: 'I am ready' }).click();
  await page.getByRole('heading', { name: 'In the wings' }).waitFor();
}

/**
 * How loud tones are in what a guest's page plays, dB of full scale, over the last two thirds of a second.
 * @returns one level for each tone; −200 where nothing comes at all
 */
export function heardBy(page: Page, tones: readonly number[]): Promise<number[]> {
  return page.evaluate(async (hz) => {
    const SIZE = 32_768;
    const stream = (document.getElementById('return') as HTMLVideoElement).srcObject as MediaStream | null;
    const track = stream?.getAudioTracks()[0];
    if (!track) return hz.map(() => -200);
    const context = new AudioContext({ sampleRate: 48_000 });
    await context.resume();
    const analyser = new AnalyserNode(context, { fftSize: SIZE });
    context.createMediaStreamSource(new MediaStream([track])).connect(analyser);
    await new Promise((resolve) => setTimeout(resolve, 1200));
    const samples = new Float32Array(SIZE);
    analyser.getFloatTimeDomainData(samples);
    await context.close();
    return hz.map((f) => {
      let re = 0;
      let im = 0;
      for (let i = 0; i < SIZE; i++) {
        // A window without side lobes to speak of: a loud tone must not stand for a quiet one.
        const t = (2 * Math.PI * i) / SIZE;
        const window =
          0.35875 - 0.48829 * Math.cos(t) + 0.14128 * Math.cos(2 * t) - 0.01168 * Math.cos(3 * t);
        re += samples[i] * window * Math.cos((2 * Math.PI * f * i) / 48_000);
        im += samples[i] * window * Math.sin((2 * Math.PI * f * i) / 48_000);
      }
      return Math.max(-200, 20 * Math.log10((2 * Math.hypot(re, im)) / (SIZE * 0.35875) + 1e-12));
    });
  }, tones);
}
