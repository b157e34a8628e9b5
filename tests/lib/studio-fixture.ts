import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Browser, BrowserContext, Page } from 'playwright-core';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import type { AnyRecord, PlanRecord } from '../../core/show/records';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { startStudio } from '../../scripts/lib/studio.mjs';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { remember } from './open-pages';
import { takenMs } from './taken-time';
import { waited } from './waits';

export const SHOW = 'night-signal-box';

/** A small picture: these tests are about what happens, not about how much. Both frames go the same ways, so one will do. */
export const SMALL_PLAN: PlanRecord = {
  kind: 'plan',
  id: 'plan-home',
  showId: SHOW,
  name: 'Home fibre',
  position: 0,
  ...PLAIN_PLAN,
  fps: 15,
  frames: { wide: { width: 320, height: 180, videoKbps: 600 } },
};

/** Video frames a second where nothing goes out: what a page is asked for does not depend on how often it is drawn. */
export const SELDOM = 5;

/** What a page waits for one thing at most, when nothing is taken from this machine. */
const PATIENCE_MS = 30_000;
/** How often a page is told how long to wait, and over what time it is looked at how much is taken. */
const LOOK_MS = 1000;
const LOOKS = 15;

/** Waits of a page last longer while others take the processor: as long as it would have had without them. */
export function growing(page: Page): void {
  remember(page);
  const taken: number[] = [];
  const look = () => {
    taken.push(takenMs());
    if (taken.length > LOOKS) taken.shift();
    // Half of everything at most is counted as taken, which doubles the patience.
    const share = Math.min(0.5, (taken.at(-1)! - taken[0]) / Math.max(1, (taken.length - 1) * LOOK_MS));
    page.setDefaultTimeout(PATIENCE_MS / (1 - share));
  };
  look();
  const timer = setInterval(look, LOOK_MS);
  page.on('close', () => clearInterval(timer));
}

/** A whole studio with the demonstration show in a fresh folder, and a browser before it. */
export class StudioFixture {
  readonly pageErrors: string[] = [];

  private constructor(
    readonly data: string,
    public studio: Awaited<ReturnType<typeof startStudio>>,
    readonly browser: Browser,
    /** Asks what the owner may ask. */
    readonly client: StudioClient,
  ) {}

  /** @param more `tall`: keep the tall platform, which is else left out */
  static async start(
    browserOptions: Parameters<typeof launchBrowser>[0] = {},
    more: { tall?: boolean; fps?: number } = {},
  ): Promise<StudioFixture> {
    const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-e2e-'));
    const [studio, browser] = await Promise.all([
      waited('studio', () => startStudio({ data, quiet: true })),
      waited('browser', () => launchBrowser(browserOptions)),
    ]);
    const fixture = new StudioFixture(data, studio, browser, await studio.owner(`/show/${SHOW}`));
    await fixture.edit(
      'Small plan',
      [{ ...SMALL_PLAN, fps: more.fps ?? SMALL_PLAN.fps }],
      more.tall ? [] : ['dest-marmot'],
    );
    return fixture;
  }

  async stop(): Promise<void> {
    await waited('browser', () => this.browser.close());
    await waited('studio', () => this.studio.stop());
    rmSync(this.data, { recursive: true, force: true });
  }

  /** Closes every page and ends a broadcast that a failed test may have left. */
  async clear(): Promise<void> {
    for (const context of this.browser.contexts()) await context.close();
    if ((await this.health()).relay?.session) await this.client.form('/broadcast', { intent: 'stop' });
  }

  get api(): string {
    return `${this.studio.url}show/${SHOW}`;
  }

  /** The show as the server has it. */
  async records(): Promise<AnyRecord[]> {
    return ((await this.client.json('/edits')) as { records: AnyRecord[] }).records;
  }

  /** One of the platforms that come with the demonstration; asked by its own address. */
  standIn(name: string) {
    const facts = this.studio.platforms().find((p: { name: string }) => p.name === name)!;
    const client = new StudioClient(facts.watchUrl.replace(/\/watch$/, ''));
    return {
      facts,
      playUrl: facts.playUrl as string,
      post: (what: string, form: Record<string, string>) => client.form(`/${what}`, form),
    };
  }

  /** Viewers of all platforms say nothing by themselves. */
  async quiet(): Promise<void> {
    for (const { name } of this.studio.platforms()) await this.standIn(name).post('quiet', { on: 'yes' });
  }

  /** Changes the show as another program would. */
  async edit(name: string, put: AnyRecord[], removed: string[] = []): Promise<void> {
    await this.client.edit({ name, put, removed });
  }

  async open(place = 'stage', context?: BrowserContext): Promise<Page> {
    return waited('browser', async () => {
      const page = await (context ?? this.browser).newPage(
        context ? undefined : { viewport: { width: 1280, height: 800 } },
      );
      await this.studio.signIn(page.context());
      growing(page);
      page.on('pageerror', (error) => this.pageErrors.push(error.message));
      await page.goto(`${this.api}/${place}`);
      await page.getByRole('navigation', { name: 'Places' }).waitFor();
      return page;
    });
  }

  async health(): Promise<{
    desk: {
      run: string;
      composed: number;
      due: number;
      fps: number;
      onAirSceneId: string | null;
      programmeEpochMs: number;
      encodes: { encode: string; governor: { plannedKbps: number } }[];
    } | null;
    relay: {
      session: {
        state: string;
        coverReady: boolean;
        destinations: { name: string; state: string; framesSent: number; reconnects: number }[];
      };
    } | null;
  }> {
    return (await this.client.json('/health')) as never;
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

/** Brings a scene on from On air, by its button. */
export async function bringOn(page: Page, scene: string): Promise<void> {
  const left = page.getByRole('region', { name: 'What to call' });
  await left.getByRole('radio', { name: 'Scenes', exact: true }).click();
  await left.getByRole('button', { name: new RegExp(`^${scene}( on air| next| Shift|$)`) }).click();
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
