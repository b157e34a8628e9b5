import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { launchBrowser } from '../lib/browser.mjs';
import { startStudio } from '../lib/studio.mjs';
import { audienceFigures } from './audience';
import { colourSpeed } from './colour-speed';
import { costFigures } from './cost';
import { editSpeed } from './edit-speed';
import { guestLoad } from './guest-load';
import { guardSpeed } from './guard-speed';
import { bareEncodeFps, firstLoad } from './in-browser';
import { mixerSpeed } from './mixer-speed';
import { programmeLoad } from './programme-load';
import { relayLoad } from './relay-load';
import { archiveSpeed } from './archive';
import { showFigures } from './shows';
import { stageSpeed } from './stage-speed';
import { stripSpeed } from './strip-speed';
import { vaultSpeed } from './vault';

const round = (value: unknown): unknown => (typeof value === 'number' ? Number(value.toPrecision(4)) : value);
const say = (line: object) =>
  console.log(
    JSON.stringify(Object.fromEntries(Object.entries(line).map(([key, value]) => [key, round(value)]))),
  );

function rehearse(args: string[]): {
  frames: { due: number; composed: number };
  captureToIngestMs: number;
  seconds: number;
} {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const json = path.join(folder, 'report.json');
  spawnSync(process.execPath, ['scripts/rehearse.mjs', '--json', json, ...args], { stdio: 'ignore' });
  const report = JSON.parse(readFileSync(json, 'utf8'));
  rmSync(folder, { recursive: true, force: true });
  if (report.failed) throw new Error(report.failed);
  return report;
}

/** `--only mixer`, `guard`, `strip`, `relay`, `vault`, `stage`, `colour`, `cost`, `edit`, `audience`, `shows`, `archive`, `programme`, `guests` or `studio` measures that part alone. */
const only = process.argv.includes('--only') ? process.argv[process.argv.indexOf('--only') + 1] : null;
const wanted = (part: string) => only === null || only === part;

if (wanted('mixer')) mixerSpeed(say);
if (wanted('guard')) guardSpeed(say);
if (wanted('strip')) stripSpeed(say);
if (wanted('relay')) await relayLoad(say);
if (wanted('vault')) await vaultSpeed(say);
if (wanted('stage')) {
  const browser = await launchBrowser();
  await stageSpeed(say, browser).finally(() => browser.close());
}
if (wanted('colour')) {
  const browser = await launchBrowser();
  await colourSpeed(say, browser).finally(() => browser.close());
}
if (wanted('cost')) await costFigures(say);
if (wanted('edit')) await editSpeed(say);
if (wanted('audience')) await audienceFigures(say);
if (wanted('shows')) await showFigures(say);
if (wanted('archive')) await archiveSpeed(say);
if (wanted('programme')) await programmeLoad(say);
if (wanted('guests')) await guestLoad(say);
if (wanted('studio')) await studioFigures();

async function studioFigures(): Promise<void> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const studio = await startStudio({ data, quiet: true });
  const browser = await launchBrowser();
  let bare: number;
  try {
    bare = await bareEncodeFps(studio, browser);
    const load = await firstLoad(studio, browser);
    say({
      name: 'studio: first load',
      value: load.ms,
      unit: 'ms',
      reference: 2000,
      ratio: load.ms / 2000,
      goal: '< 1',
    });
    say({
      name: 'studio: script of the first place, compressed',
      value: load.scriptKb,
      unit: 'kB',
      reference: 500,
      ratio: load.scriptKb / 500,
      goal: '< 1',
    });
  } finally {
    await browser.close();
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
  const small = rehearse(['--seconds', '20']);
  say({
    name: 'capture to ingest, 640x360',
    value: small.captureToIngestMs,
    unit: 'ms',
    reference: 400,
    ratio: small.captureToIngestMs / 400,
    goal: '< 1',
  });
  const large = rehearse(['--seconds', '20', '--size', '1280x720', '--kbps', '3000']);
  const fps = (30 * large.frames.composed) / large.frames.due;
  const limit = Math.min(30, bare);
  say({
    name: 'studio: 1280x720 at 30, demonstration',
    value: fps,
    unit: 'pictures/s',
    reference: limit,
    ratio: fps / limit,
    against: `bare drawImage and encode, ${bare.toFixed(1)} unpaced`,
  });
}
