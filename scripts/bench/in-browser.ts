/** What the browser is asked for: drawing and encoding as such, and the first load of the studio. */
import { gzipSync } from 'node:zlib';
import type { Browser } from 'playwright-core';
import type { startStudio } from '../lib/studio.mjs';

type RunningStudio = Awaited<ReturnType<typeof startStudio>>;

/** Pictures a second that bare drawing (two moving full-frame pictures) and encoding reach at 1280 × 720. */
export async function bareEncodeFps(studio: RunningStudio, browser: Browser): Promise<number> {
  const page = await studio.page(browser);
  await page.goto(studio.url);
  const fps = await page.evaluate(async () => {
    const [width, height] = [1280, 720];
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { alpha: false })!;
    const picture = new OffscreenCanvas(width + 200, height + 200);
    const inner = picture.getContext('2d')!;
    for (let i = 0; i < 400; i++) {
      inner.fillStyle = `hsl(${i * 7} 50% ${20 + (i % 50)}%)`;
      inner.fillRect((i * 97) % 1400, (i * 53) % 900, 120, 90);
    }
    let failed: unknown = null;
    const encoder = new VideoEncoder({ output: () => undefined, error: (error) => (failed = error) });
    encoder.configure({
      codec: 'avc1.64001f',
      width,
      height,
      framerate: 30,
      bitrate: 3e6,
      bitrateMode: 'constant',
      latencyMode: 'realtime',
      avc: { format: 'avc' },
    });
    const count = 150;
    let start = 0;
    for (let i = 0; i < count + 30; i++) {
      if (i === 30) {
        await encoder.flush();
        start = performance.now();
      }
      context.drawImage(picture, (i * 3) % 200, 40, width, height, 0, 0, width, height);
      context.globalAlpha = 0.5;
      context.drawImage(picture, 90, (i * 2) % 200, width, height, 0, 0, width, height);
      context.globalAlpha = 1;
      const frame = new VideoFrame(canvas, { timestamp: i * 33_333 });
      encoder.encode(frame, { keyFrame: i % 60 === 0 });
      frame.close();
      while (encoder.encodeQueueSize > 2) await new Promise((resolve) => setTimeout(resolve, 0));
    }
    await encoder.flush();
    if (failed) throw failed;
    return (count * 1000) / (performance.now() - start);
  });
  await page.close();
  return fps;
}

/** Milliseconds until the studio's path is there, and compressed bytes of script fetched by then. */
export async function firstLoad(
  studio: RunningStudio,
  browser: Browser,
): Promise<{ ms: number; scriptKb: number }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await studio.signIn(context);
  const page = await context.newPage();
  let bytes = 0;
  page.on('response', (response) => {
    if (response.request().resourceType() !== 'script') return;
    void response.body().then(
      (body) => (bytes += gzipSync(body).length),
      () => undefined,
    );
  });
  const start = performance.now();
  await page.goto(`${studio.url}show/night-signal-box/stage`);
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  const ms = performance.now() - start;
  await page.waitForTimeout(500);
  await context.close();
  return { ms, scriptKb: bytes / 1024 };
}
