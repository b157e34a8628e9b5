import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Browser, BrowserContext, Page } from 'playwright-core';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import type { AnyRecord } from '../../core/show/records';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { startStudio } from '../../scripts/lib/studio.mjs';

export const SHOW = 'night-signal-box';

/** A whole studio with the demonstration show in a fresh folder, and a browser before it. */
export class StudioFixture {
  readonly pageErrors: string[] = [];

  private constructor(
    readonly data: string,
    public studio: Awaited<ReturnType<typeof startStudio>>,
    readonly browser: Browser,
  ) {}

  /** @param more `tall`: keep the tall platform, which is else left out */
  static async start(
    browserOptions: Parameters<typeof launchBrowser>[0] = {},
    more: { tall?: boolean } = {},
  ): Promise<StudioFixture> {
    const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-e2e-'));
    const studio = await startStudio({ data, quiet: true });
    const fixture = new StudioFixture(data, studio, await launchBrowser(browserOptions));
    // A small picture: these tests are about what happens, not about how much.
    await fixture.edit(
      'Small plan',
      [
        {
          kind: 'plan',
          id: 'plan-home',
          showId: SHOW,
          name: 'Home fibre',
          position: 0,
          // One frame: what these tests are about happens alike in both, and the machine is small.
          frames: { wide: { width: 640, height: 360, videoKbps: 1200 } },
          ...PLAIN_PLAN,
        },
      ],
      more.tall ? [] : ['dest-marmot'],
    );
    return fixture;
  }

  async stop(): Promise<void> {
    await this.browser.close();
    await this.studio.stop();
    rmSync(this.data, { recursive: true, force: true });
  }

  /** Closes every page and ends a broadcast that a failed test may have left. */
  async clear(): Promise<void> {
    for (const context of this.browser.contexts()) await context.close();
    if ((await this.health()).relay?.session) {
      const body = new URLSearchParams({ intent: 'stop' });
      await fetch(`${this.api}/broadcast`, { method: 'POST', body });
    }
  }

  get api(): string {
    return `${this.studio.url}show/${SHOW}`;
  }

  /** Changes the show as another program would. */
  async edit(name: string, put: AnyRecord[], removed: string[] = []): Promise<void> {
    // A page may save something in between: then once more.
    for (let tries = 0; tries < 5; tries++) {
      const { revision } = (await (await fetch(`${this.api}/edits`)).json()) as { revision: number };
      const response = await fetch(`${this.api}/edits`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ id: crypto.randomUUID(), name, put, removed, baseRevision: revision }),
      });
      if (response.ok) return;
      if (response.status !== 409) throw new Error(await response.text());
    }
    throw new Error('the show changes all the time');
  }

  async open(place = 'stage', context?: BrowserContext): Promise<Page> {
    const page = await (context ?? this.browser).newPage(
      context ? undefined : { viewport: { width: 1280, height: 800 } },
    );
    page.on('pageerror', (error) => this.pageErrors.push(error.message));
    await page.goto(`${this.api}/${place}`);
    // The first load beside other tests on a starved machine has taken over half a minute.
    await page.getByRole('navigation', { name: 'Places' }).waitFor({ timeout: 90_000 });
    return page;
  }

  async health(): Promise<{
    desk: {
      composed: number;
      due: number;
      fps: number;
      onAirSceneId: string | null;
      programmeEpochMs: number;
      encodes: { encode: string }[];
    } | null;
    relay: {
      session: {
        state: string;
        coverReady: boolean;
        destinations: { name: string; state: string; framesSent: number; reconnects: number }[];
      };
    } | null;
  }> {
    const ask = () => fetch(`${this.api}/health`);
    // The server may have closed a kept connection while a test stood still for another program.
    return (await ask().catch(ask)).json() as never;
  }
}

/** What a try before has left on the screen and on the air is ended: a second try begins where the first one did. */
export async function offAir(page: Page): Promise<void> {
  const dialog = page.getByRole('dialog');
  if ((await dialog.count()) > 0) {
    await page.keyboard.press('Escape');
    await dialog.waitFor({ state: 'detached' });
  }
  const goLiveButton = page.getByRole('button', { name: 'Go live', exact: true });
  const stop = page.getByRole('button', { name: /Stop the|Stop recording|Stop looking back|Cut off/ });
  await goLiveButton.or(stop).first().waitFor();
  if (await goLiveButton.isVisible()) return;
  await stop.first().click();
  await dialog.getByRole('button', { name: /Stop the broadcast|Cut off/ }).click();
  await goLiveButton.waitFor();
}

export async function goLive(page: Page): Promise<void> {
  await offAir(page);
  await page.getByRole('button', { name: 'Go live', exact: true }).click();
  await page.getByRole('button', { name: /Stop the broadcast/ }).waitFor();
}

export async function stopLive(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Stop the broadcast/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stop the broadcast' }).click();
  await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
}

/** Goes to a place by the path along the top, as a user does. */
export async function goTo(page: Page, place: string): Promise<void> {
  const link = page
    .getByRole('navigation', { name: 'Places' })
    .getByRole('link', { name: new RegExp(place) });
  await link.click();
  // A place comes once what it needs is there: until then the page is still at the one before.
  await link.and(page.locator('[aria-current="page"]')).waitFor();
}

/** Turns to the list of destinations in Delivery. */
export async function showDestinations(page: Page): Promise<void> {
  await page.getByRole('radio', { name: 'Destinations', exact: true }).click();
}

/** A small clip with picture and sound, made by ffmpeg. */
export function makeClip(file: string, seconds = 4): void {
  const { status, stderr } = spawnSync('ffmpeg', [
    ...[
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=640x360:rate=25',
      '-f',
      'lavfi',
      '-i',
      'sine=frequency=660:sample_rate=44100',
    ],
    ...[
      '-t',
      String(seconds),
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-pix_fmt',
      'yuv420p',
      '-c:a',
      'aac',
      file,
    ],
  ]);
  if (status !== 0) throw new Error(String(stderr));
}

export function makePicture(file: string): void {
  const { status, stderr } = spawnSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'smptebars=size=320x240',
    '-frames:v',
    '1',
    file,
  ]);
  if (status !== 0) throw new Error(String(stderr));
}
