// An unattended rehearsal: the real studio in headless Chromium broadcasts the demonstration show to the stand-ins; what
// arrives is judged by ffprobe and ffmpeg. Exit code 0 only when everything was within bounds.
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { ensurePrograms } from './lib/debian.mjs';
import { checkNode, ensureBuild, ensurePackages, fail } from './lib/prepare.mjs';

checkNode();
let options;
try {
  ({ values: options } = parseArgs({
    options: {
      seconds: { type: 'string', default: '20' },
      size: { type: 'string', default: '640x360' },
      fps: { type: 'string', default: '30' },
      kbps: { type: 'string', default: '1500' },
      tall: { type: 'string' },
      channels: { type: 'string', default: '0' },
      storm: { type: 'boolean', default: false },
      'by-turns': { type: 'boolean', default: false },
      motion: { type: 'boolean', default: false },
      page: { type: 'string' },
      scene: { type: 'string' },
      json: { type: 'string' },
      destination: { type: 'string', multiple: true, default: [] },
      keep: { type: 'string' },
    },
  }));
} catch (error) {
  fail(
    `${error.message}. Options: --seconds N --size WxH --fps N --kbps N --tall WxH --channels N --storm --by-turns --motion --page hangs|moves|dies --scene NAME --destination URL --json FILE --keep DIR`,
  );
}
const seconds = Number(options.seconds);
const [width, height] = options.size.split('x').map(Number);
const fps = Number(options.fps);
const kbps = Number(options.kbps);
/** A show hears of the platforms that it sends to. */
const watched = () => studio.platforms().filter(({ name }) => options.tall || name !== 'marmot');
const stormTurns = options.storm && options['by-turns'];
const pageTurns = options.page !== undefined;
if (pageTurns && !['hangs', 'moves', 'dies'].includes(options.page))
  fail('Give --page hangs, moves or dies.');
if (stormTurns && pageTurns) fail('Choose --by-turns or --page: each needs the turns for itself.');
const [tallWidth, tallHeight] = options.tall ? options.tall.split('x').map(Number) : [0, 0];
if (options.tall && !(tallWidth > 0 && tallHeight > 0)) fail('Give --tall a size like 360x640.');
if (!(seconds >= 10) || !(width > 0) || !(height > 0) || !(fps > 0) || !(kbps > 0))
  fail('Give --seconds of at least 10, --size like 640x360, --fps and --kbps as numbers.');

await ensurePackages().catch((error) => fail(error.message));
const missing = await ensurePrograms(['chromium', 'ffmpeg']);
if (missing.length > 0) fail(`The rehearsal needs ${missing.join(', ')}: install them first.`);
await ensureBuild().catch((error) => fail(error.message));
const { startStudio } = await import('./lib/studio.mjs');
const { launchBrowser } = await import('./lib/browser.mjs');
const { analyse, pullArguments, syncOffsetsIn } = await import('./lib/analyse.mjs');
const { byTurns } = await import('./lib/by-turns.mjs');
const { toldPage } = await import('./lib/told-page.mjs');
const { startStorm, stormByTurns } = await import('./lib/audience-storm.mjs');
const { manyChannels } = await import('./lib/many-channels.mjs');
const { watchMemory } = await import('./lib/memory-watch.mjs');
const { childWith, stolenSeconds, usage } = await import('./lib/process-usage.mjs');

const data = options.keep
  ? path.resolve(options.keep)
  : mkdtempSync(path.join(os.tmpdir(), 'dolomite-rehearsal-'));
const SHOW = 'night-signal-box';
/** Channels of the show that `--channels` replaces. */
const PLAIN_CHANNELS = ['ch-voice', 'ch-call', 'ch-game', 'ch-music'];
/** Seconds in the sync check at the start and at the end. */
const CHECK = 6;
/** Changes of scene in one round of the walk that are cuts. */
const CUTS = 1;
/** Seconds of one round through the show, at most. */
const LONGEST_ROUND = 300;
/** From this length on memory must be flat: it has to warm up before that. */
const LONG = 600;
/** The walk through the show between them, unless one scene is asked for. */
const WALK = ['Game', 'Talk', 'Levers', 'Break'];
const wait = (s) => new Promise((resolve) => setTimeout(resolve, s * 1000));

const studio = await startStudio({ data, quiet: true });
let browser = null;
let report;
try {
  const client = await studio.owner(`/show/${SHOW}`);
  const edit = (name, put, removed = []) => client.edit({ name, put, removed });
  await edit('Rehearsal plan', [
    {
      kind: 'plan',
      id: 'plan-home',
      showId: SHOW,
      name: 'Rehearsal',
      position: 0,
      frames: {
        wide: { width, height, videoKbps: kbps },
        ...(options.tall && { tall: { width: tallWidth, height: tallHeight, videoKbps: kbps } }),
      },
      fps,
      audioKbps: 128,
      keyframeSeconds: 2,
      lineKbps: null,
      headroom: 0.3,
      content: 'talk',
      effort: 'quick',
      encoder: 'any',
      adaptive: true,
    },
  ]);
  // Without a tall picture its platform would wait in vain.
  if (!options.tall) await edit('Wide only', [], ['dest-marmot']);
  // In place of the show's own, but for the clapper, which tells sound from picture.
  if (Number(options.channels) > 0)
    await edit('Many channels', manyChannels(SHOW, Number(options.channels)), PLAIN_CHANNELS);
  for (const [i, address] of options.destination.entries()) {
    const cut = address.lastIndexOf('/');
    const id = `dest-extra-${i}`;
    await edit('Extra destination', [
      {
        kind: 'destination',
        id,
        showId: SHOW,
        name: `Extra ${i + 1}`,
        position: 10 + i,
        url: address.slice(0, cut),
        frame: 'wide',
        enabled: true,
        connector: null,
        capKbps: null,
        ownKbps: null,
        encodedBy: 'desk',
        delaySeconds: 0,
        keyUse: 'lasting',
        padded: false,
        servers: [],
        details: {
          title: '',
          category: '',
          tags: [],
          description: '',
          latency: 'normal',
          thumbnailId: null,
        },
      },
    ]);
    await client.form('/keys', { destinationId: id, key: address.slice(cut + 1) });
  }

  const told = pageTurns
    ? await toldPage({
        does: options.page,
        web: studio.children.get('web').pid,
        client,
        data,
        showId: SHOW,
        edit,
      })
    : null;

  browser = await launchBrowser({ fakeDevices: true, throttling: true });
  const page = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
  const faults = [];
  page.on('pageerror', (error) => faults.push(error.message));
  await page.goto(`${studio.url}show/${SHOW}/air`);
  const left = page.getByRole('region', { name: 'What to call' });
  const bring = async (name) => {
    await left.getByRole('radio', { name: 'Scenes', exact: true }).click();
    await left.getByRole('button', { name: new RegExp(`^${name}( on air| Shift|$)`) }).click();
  };
  await bring('Sync check');
  await page.waitForTimeout(2500); // sound warms up, caches fill
  const browserPid = childWith('chromium');
  const processes = {
    web: studio.children.get('web').pid,
    relay: studio.children.get('relay').pid,
    'stand-ins': studio.children.get('standins').pid,
  };
  const before = Object.fromEntries(Object.entries(processes).map(([name, pid]) => [name, usage(pid)]));
  const browserBefore = usage(browserPid, true);
  await page.getByRole('button', { name: 'Go live', exact: true }).click();
  const begun = performance.now();
  const stolenBefore = stolenSeconds();
  // What a viewer gets, from the first seconds to the end.
  const facts = studio.platforms().filter((p) => p.frame === 'wide' || options.tall);
  const pulls = facts.map(({ name, playUrl }) => {
    const file = path.join(data, `${name}.flv`);
    return {
      name,
      file,
      done: new Promise((resolve) =>
        setTimeout(
          () =>
            spawn('ffmpeg', pullArguments(playUrl, file, seconds + 5), { stdio: 'ignore' }).on(
              'exit',
              resolve,
            ),
          2500,
        ),
      ),
    };
  });
  const loads = [];
  const mixing = [];
  const loadTimer = setInterval(async () => {
    try {
      const { desk } = await client.json('/health');
      loads.push(desk.soundLoad);
      mixing.push(desk.soundMixing);
    } catch {
      // The server is busy: one reading fewer.
    }
  }, 2000);
  loadTimer.unref();
  if (process.env.DOLOMITE_TRACE)
    setInterval(async () => {
      try {
        const h = (await client.json('/health')).desk;
        console.error(
          ((performance.now() - begun) / 1000).toFixed(1),
          h.onAirSceneId,
          'due',
          h.due,
          'skip',
          h.skipped,
          'late',
          h.late,
          'slips',
          h.clockSlips,
          'kbps',
          h.kbps,
          'soft',
          h.encodes[0]?.governor.softened,
          'keys',
          h.encodes[0]?.governor.unaskedKeyframes,
          'ms',
          h.composeMs.toFixed(1),
        );
      } catch {}
    }, 1000).unref();
  const look = async () => (await client.json('/health')).desk;
  const clear = async () => {
    const queue = page.getByRole('group', { name: 'Queue of alerts' });
    for (const name of ['Clear', 'Skip']) {
      const button = queue.getByRole('button', { name, exact: true });
      if (await button.isEnabled()) await button.click();
    }
  };
  const countStorm =
    options.storm && !stormTurns ? startStorm(watched(), Math.max(5, seconds - 8), data) : null;
  const memoryWatched = watchMemory({ browser: browserPid, relay: processes.relay, web: processes.web });
  await wait(CHECK);
  const rounds = Math.max(1, Math.round(seconds / LONGEST_ROUND));
  // The talk's three poses one after the other, each glide cut short by the next: everything moves all the time.
  const walk = options.motion
    ? ['Talk']
    : options.scene
      ? [options.scene]
      : Array.from({ length: rounds }, () => WALK).flat();
  const each = Math.max(0, seconds - 2 * CHECK) / walk.length;
  // Scenes differ in what they cost: with and without are compared in one.
  if (stormTurns || pageTurns) await bring(options.scene ?? WALK[0]);
  await told?.ready();
  const turns = stormTurns
    ? await stormByTurns(watched(), seconds - 2 * CHECK, data, { look, clear })
    : told
      ? await byTurns({ ...told.turns, seconds: seconds - 2 * CHECK, look })
      : null;
  for (const name of turns ? [] : walk) {
    if (each < 0.5) break;
    await bring(name);
    if (!options.motion) await wait(each);
    else
      for (let n = 1, until = performance.now() + each * 1000; performance.now() < until; n++) {
        await page.keyboard.press(String((n % 3) + 1));
        await wait(0.45);
      }
  }
  await bring('Sync check');
  await wait(Math.max(2.5, seconds - (performance.now() - begun) / 1000));
  clearInterval(loadTimer);
  const memory = memoryWatched();
  const audience = stormTurns ? turns : countStorm && (await countStorm());
  told?.close();
  const health = await client.json('/health');
  const took = (performance.now() - begun) / 1000;
  // How old the newest picture was when it was handed to the destinations.
  const sent = health.relay.session.sent;
  const captureToIngestMs = sent.atMs - (health.desk.programmeEpochMs + sent.timestampUs / 1000);
  const after = Object.fromEntries(Object.entries(processes).map(([name, pid]) => [name, usage(pid)]));
  const browserAfter = usage(browserPid, true);
  await page.getByRole('button', { name: /Stop the broadcast/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stop the broadcast' }).click();
  await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
  await Promise.all(pulls.map((p) => Promise.race([p.done, wait(15)])));

  const { desk, relay } = health;
  const round = (value, digits = 1) => Math.round(value * 10 ** digits) / 10 ** digits;
  const quantile = (list, share) =>
    [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0;
  const pulled = pulls.map(({ name, file }) => ({
    name,
    ...(existsSync(file) && statSync(file).size > 1000 ? analyse(file) : { missing: true }),
  }));
  const frameOfPull = (name) => facts.find((f) => f.name === name)?.frame;
  const recording = path.basename(relay.session.recording?.file ?? '');
  const recordingFile = path.join(data, 'recordings', recording);
  const recorded = recording ? analyse(recordingFile) : null;
  const offsetsIn = (from, length) =>
    recording ? syncOffsetsIn(recordingFile, Math.max(0, from), length).map((o) => o.ms) : [];
  const first = offsetsIn(0, CHECK + 1);
  const last = offsetsIn((recorded?.seconds ?? 0) - CHECK - 1, CHECK + 1);
  const mean = (list) =>
    list.length > 0 ? Math.round((list.reduce((sum, v) => sum + v, 0) / list.length) * 10) / 10 : null;
  // Every two seconds a keyframe, to the millisecond; encoders may add one of their own where the scene is cut.
  const stamps = (recorded?.keyframeSeconds ?? []).reduce((list, gap) => [...list, list.at(-1) + gap], [0]);
  const onGrid = (at) => Math.abs(at / 2 - Math.round(at / 2)) < 0.001;
  const gridKept = Array.from({ length: Math.floor((stamps.at(-1) + 0.001) / 2) + 1 }, (_, i) => i * 2).every(
    (wanted) => stamps.some((at) => Math.abs(at - wanted) < 0.002),
  );
  const extraKeyframes = stamps.filter((at) => !onGrid(at)).length;
  const used = (name, from, to) => ({
    name,
    cpuSeconds: round(to.cpuSeconds - from.cpuSeconds, 2),
    peakRssMb: round(to.peakRssMb, 0),
  });
  report = {
    seconds: round(took),
    frames: {
      due: desk.due,
      composed: desk.composed,
      late: desk.late,
      skipped: desk.skipped,
      leftOut: desk.leftOut,
      lineDropped: desk.lineDropped,
      composeMs: round(desk.composeMs, 2),
      clockSlips: desk.clockSlips,
    },
    encodes: desk.encodes.map((encode) => {
      // The recording of the first frame is looked at; the other one is what its platform's viewers got.
      const got =
        encode.encode === 'wide' ? recorded : pulled.find((p) => frameOfPull(p.name) === encode.encode);
      return {
        frame: encode.encode,
        codec: encode.codec,
        width: encode.width,
        height: encode.height,
        fps,
        kbps: round(got?.kbps ?? 0),
        plannedKbps: kbps,
        worstTwoSecondsKbps: round(got?.worstTwoSecondsKbps ?? 0),
        keyframeSeconds: got?.keyframeSeconds?.map((s) => round(s, 3)),
        keyframePictures: got?.keyframePictures,
        ...(encode.encode === 'wide' && { extraKeyframes }),
        governor: encode.governor,
      };
    }),
    destinations: relay.session.destinations.map((d) => {
      const fact = facts.find((f) => f.title === d.name);
      return {
        name: d.name,
        url: fact?.playUrl ?? null,
        connected: d.state === 'live',
        kbps: d.kbps,
        framesSent: d.framesSent,
        framesDropped: d.framesDropped,
        reconnects: d.reconnects,
        message: d.message,
        pulled: pulled.find((p) => p.name === fact?.name),
      };
    }),
    sound: {
      integratedLufs: desk.integratedLufs && round(desk.integratedLufs),
      truePeakDbtp: desk.truePeakDbtp && round(desk.truePeakDbtp),
      // Means of two seconds each.
      loadMedian: round(quantile(loads, 0.5), 3),
      loadWorst: round(quantile(loads, 1), 3),
      mixingMedian: round(quantile(mixing, 0.5), 3),
      mixingWorst: round(quantile(mixing, 1), 3),
      clockSlips: desk.clockSlips,
    },
    ...(audience && {
      audience: {
        ...audience,
        alerts: desk.alerts,
      },
    }),
    ...(told && { page: { does: options.page, ...turns, begun: told.begun() } }),
    memory,
    captureToIngestMs: round(captureToIngestMs),
    syncOffsetMs: { start: mean(first), end: mean(last), all: [...first, ...last].map((ms) => round(ms)) },
    recordings: recorded
      ? [{ file: recordingFile, seconds: round(recorded.seconds), stampsRise: recorded.stampsRise }]
      : [],
    processes: [
      ...Object.keys(processes).map((name) => used(name, before[name], after[name])),
      used('browser', browserBefore, browserAfter),
    ],
    machine: { cores: os.cpus().length, stolenSeconds: round(stolenSeconds() - stolenBefore, 1) },
    faults,
  };
  // Two frames at once on a small machine may lose a few more pictures than one.
  const share = options.tall || options.motion ? 0.95 : 0.99;
  // Skipped are those not composed and those an encoder was too busy for.
  const handed = desk.due * desk.encodes.length - desk.skipped - desk.leftOut - desk.lineDropped;
  const bounds = {
    composed: desk.composed >= desk.due * share,
    sent: handed >= desk.due * desk.encodes.length * (options.scene ? 0.2 : options.motion ? 0.9 : share),
    frames: desk.encodes.length === (options.tall ? 2 : 1),
    dropped: report.destinations.every((d) => d.framesDropped === 0),
    connected: report.destinations.length > 0 && report.destinations.every((d) => d.connected),
    keyframes:
      recorded !== null &&
      recorded.keyframeSeconds.length > 0 &&
      (options.scene
        ? recorded.keyframeSeconds.every((s) => s < 2.01)
        : gridKept && extraKeyframes <= CUTS * rounds),
    rate: recorded !== null && recorded.worstTwoSecondsKbps <= kbps * 1.1,
    sync: first.length > 0 && last.length > 0 && [...first, ...last].every((ms) => Math.abs(ms) <= 40),
    stamps: recorded?.stampsRise === true && pulled.every((p) => p.stampsRise === true),
    // All sound is 240 ms late by design, and the pictures wait for it.
    latency: captureToIngestMs > 0 && captureToIngestMs < 640,
    truePeak: desk.truePeakDbtp !== null && desk.truePeakDbtp <= -0.9,
    faults: faults.length === 0,
    ...(seconds >= LONG && {
      // A storm fills the list and the books of the evening: ten per cent then.
      memory: memory !== null && Math.abs(memory.together.ratio - 1) <= (options.storm ? 0.1 : 0.05),
    }),
    ...(audience && {
      audience: audience.sent === audience.listed && audience.listed === audience.different,
    }),
    // What a storm may cost: one picture in a hundred that is late.
    ...(stormTurns && { stormCost: turns.latePercent.with <= turns.latePercent.without + 1 }),
    // And a page that hangs or dies: none, but for what is chance among some thousands.
    ...(['hangs', 'dies'].includes(options.page) && {
      pageCost: turns.latePercent.with <= turns.latePercent.without + 0.5,
    }),
  };
  report.bounds = bounds;
  report.withinBounds = Object.values(bounds).every(Boolean);
} catch (error) {
  report = { failed: error.message, withinBounds: false };
} finally {
  await browser?.close();
  await studio.stop();
}
const text = JSON.stringify(report, null, 2);
if (options.json) writeFileSync(options.json, text);
console.log(text);
if (!options.keep) rmSync(data, { recursive: true, force: true });
process.exit(report.withinBounds ? 0 : 1);
