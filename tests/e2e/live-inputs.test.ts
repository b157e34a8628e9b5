/** A real web page and a real encoder as inputs, through the interface, and what viewers get of them. */
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { en } from '../../app/words/en';
import type { ChannelRecord } from '../../core/show/records';
import { beeps, syncOffsets } from '../../scripts/lib/analyse.mjs';
import { freshStart } from '../lib/fresh-start';
import { pull } from '../lib/pull';
import { eventually } from '../lib/relay-process';
import { meanDb } from '../lib/sound-files';
import * as stage from '../lib/stage-driver';
import { Patience } from '../lib/taken-time';
import { StreamWatcher } from '../lib/stream-watcher';
import { goLive, stopLive } from '../lib/studio-fixture';

let server: http.Server;
let port = 0;
let hangs = false;
let encoder: ChildProcess | null = null;
/** Once a second, for a fifth of it, all white and a tone of 1 kHz. */
const CLAPS = `<body style="margin:0;background:#000"><script>
  const context = new AudioContext(), tone = context.createOscillator(), gate = context.createGain();
  tone.frequency.value = 1000;
  gate.gain.value = 0;
  tone.connect(gate).connect(context.destination);
  tone.start();
  const set = (on) => {
    document.body.style.background = on ? '#fff' : '#000';
    gate.gain.value = on;
  };
  setInterval(() => { set(1); setTimeout(set, 200, 0); }, 1000);
</script>`;

beforeAll(async () => {
  server = http.createServer(({ url }, response) => {
    response.writeHead(200, { 'content-type': 'text/html' });
    if (url === '/claps') return response.end(CLAPS);
    // An orange card on the left, nothing on the right.
    response.end(
      `<body style="margin:0"><div style="width:50vw;height:100vh;background:#e07020"></div>${hangs ? '<script>setTimeout(()=>{for(;;);},300)</script>' : ''}</body>`,
    );
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  port = (server.address() as AddressInfo).port;
});
afterAll(() => {
  encoder?.kill('SIGKILL');
  server.closeAllConnections();
  server.close();
});
freshStart(async () => {
  await stage.openStage(15);
  // Alerts one after the other would lie over what is looked at, for as long as viewers do things.
  await stage.fixture.quiet();
}, stage.closeStage);

const settings = () => stage.page.getByRole('region', { name: 'Input settings' });

/** A layer with a feed. @returns where an encoder sends it, with its key */
async function addFeed(): Promise<string> {
  const { page } = stage;
  await stage.addLayer('Network feed…');
  await settings().getByRole('button', { name: 'Copy the address' }).click();
  await page.getByText(/Copied, with its key/).waitFor();
  return page.evaluate(() => navigator.clipboard.readText());
}

/** An encoder that is not ours: a plain colour and a tone. */
function publish(address: string, colour: string, size = '320x180'): ChildProcess {
  return spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-nostdin', '-re', '-f', 'lavfi', '-i', `color=c=${colour}:size=${size}:rate=25`],
      ...['-f', 'lavfi', '-i', 'sine=frequency=1000:sample_rate=44100'],
      ...[
        '-c:v',
        'libx264',
        '-preset',
        'ultrafast',
        '-tune',
        'zerolatency',
        '-g',
        '25',
        '-pix_fmt',
        'yuv420p',
      ],
      ...['-c:a', 'aac', '-ac', '1', '-f', 'flv', address],
    ],
    { stdio: 'ignore' },
  );
}

test('a page with transparency over a feed with sound reaches viewers; either may fail without a hole', async () => {
  const { page, fixture } = stage;
  await stage.freshScene();

  // The feed: added, its address copied, an encoder sends there.
  const address = await addFeed();
  expect(address).toMatch(/^rtmp:\/\/127\.0\.0\.1:\d+\/feed\/[0-9a-f]{24}$/);
  await settings()
    .getByText(/nobody sends yet/)
    .waitFor();
  encoder = publish(address, '0x2060c0');
  await settings()
    .getByText(/320×180.*shown 0\.\d s after it arrives/)
    .waitFor();

  // The page: over the whole frame; its address is private, so it asks first.
  await page.getByRole('radio', { name: 'Layers, top first' }).click();
  await stage.addLayer('Web page…');
  await settings().getByLabel('Address').fill(`http://127.0.0.1:${port}/overlay?token=hush`);
  await settings().getByRole('button', { name: 'Use', exact: true }).click();
  await settings()
    .getByRole('button', { name: `Allow 127.0.0.1:${port}` })
    .click();
  await settings()
    .getByText(/running, 1280×720/)
    .waitFor();
  // Nothing of the address is on the page or in the show.
  expect(await page.content()).not.toContain('hush');
  expect(JSON.stringify(await stage.records())).not.toContain('hush');

  // The feed fills the frame below the page.
  await page.getByRole('radio', { name: 'Layers, top first' }).click();
  await stage.choose('Network feed');
  await stage.arrange('Fill');
  await page.getByRole('button', { name: new RegExp(`^Test ${stage.scenes}: bring on air`) }).click();
  await goLive(page);
  const { playUrl } = fixture.studio.platforms()[0];
  const watcher = new StreamWatcher(playUrl, 160, 90);
  try {
    const [left, right] = [
      // Below what viewers' streak puts there while it lasts, which may be minutes.
      { x: 10, y: 38, width: 40, height: 40 },
      { x: 100, y: 38, width: 40, height: 40 },
    ];
    // Its browser comes behind everything else in the schedule: on a full machine it is slow in starting.
    await watcher.until('the page', () => watcher.share(left, '#e07020', 30) > 0.9, 60_000);
    await watcher.until('the feed beside it', () => watcher.share(right, '#2060c0', 30) > 0.9);

    // The feed's tone is in the programme.
    const file = path.join(fixture.data, 'feed-sound.flv');
    await pull(playUrl, file, 5);
    const tone = meanDb(file, { filter: 'bandpass=f=1000:width_type=h:w=50' });
    expect(tone).toBeGreaterThan(-45);

    // The encoder dies: its place says so within two seconds, and it returns automatically.
    encoder.kill('SIGKILL');
    const died = new Patience(4000);
    await settings()
      .or(page.getByRole('region', { name: 'Layer settings' }))
      .getByText(/sending side is gone|stands still/)
      .waitFor();
    expect(died.over, String(died)).toBe(false);
    await watcher.until('the placeholder', () => watcher.share(right, '#2060c0', 30) < 0.5);
    // Of another size this time.
    encoder = publish(address, '0x20a040', '480x270');
    await watcher.until('the feed again', () => watcher.share(right, '#20a040', 30) > 0.9, 30_000);

    // It stands still and goes on, without beginning anew.
    encoder.kill('SIGSTOP');
    await watcher.until('the placeholder again', () => watcher.share(right, '#20a040', 30) < 0.5);
    encoder.kill('SIGCONT');
    await watcher.until('the feed once more', () => watcher.share(right, '#20a040', 30) > 0.9, 30_000);

    // The page hangs: what it showed stays, pictures go on.
    const before = (await fixture.health()).desk!;
    hangs = true;
    await page.getByRole('radio', { name: 'Inputs of the show' }).click();
    await page.getByTestId('input-Web page').getByRole('button').first().click();
    await stage.setInputNumber('Max rate', 9);
    await settings().getByText(/hangs/).waitFor();
    await watcher.until('what the page showed', () => watcher.share(left, '#e07020', 30) > 0.9);
    const after = (await fixture.health()).desk!;
    // It comes behind everything else in the schedule; how many are composed beside it is still the machine's affair.
    expect(after.composed).toBeGreaterThan(before.composed);
    hangs = false;
    await settings()
      .getByText(/running, 1280×720(; shown less often.*)?$/)
      .waitFor({ timeout: 60_000 });
  } finally {
    watcher.close();
    await stopLive(page);
  }
});

test('what a page plays comes into the mixer by one press, and reaches viewers with what it shows', async () => {
  const { page, fixture } = stage;
  await stage.freshScene();
  await stage.addLayer('Web page…');
  await settings().getByLabel('Address').fill(`http://127.0.0.1:${port}/claps`);
  await settings().getByRole('button', { name: 'Use', exact: true }).click();
  await settings()
    .getByRole('button', { name: `Allow 127.0.0.1:${port}` })
    .click();
  await settings().getByText(en.pageSound.plays).waitFor();
  await settings().getByRole('button', { name: en.pageSound.add }).click();
  // One of that name was there before.
  await settings()
    .getByText(new RegExp(en.pageSound.on.replace('{{name}}', 'Web page( 2)?')))
    .waitFor();
  // Nothing else is to be heard.
  const channels = (await stage.records()).filter((r): r is ChannelRecord => r.kind === 'channel');
  await fixture.edit(
    'Silence',
    channels.filter(({ source }) => source.type !== 'input').map((channel) => ({ ...channel, muted: true })),
  );
  await page.getByRole('button', { name: new RegExp(`^Test ${stage.scenes}: bring on air`) }).click();
  await goLive(page);
  try {
    const file = path.join(fixture.data, 'page-sound.flv');
    // Both reach viewers. How they lie to each other is judged by their stamps (peers), since on a machine that stands still
    // now and then the page's own pictures come late.
    await eventually(async () => {
      await pull(fixture.studio.platforms()[0].playUrl, file, 8);
      return beeps(file).length > 3 && syncOffsets(file).length > 0;
    }, 60_000);
  } finally {
    await stopLive(page);
  }
});

test('a feed that cannot be decoded says so and is shown as soon as it can be', async () => {
  const { fixture } = stage;
  await stage.freshScene();
  const address = await addFeed();
  const file = path.join(fixture.data, 'strange.flv');
  execFileSync(
    'ffmpeg',
    `-v error -y -f lavfi -i color=c=0x2060c0:size=320x180:rate=25 -f lavfi -i sine -t 3 -c:v libx264 -g 25 -pix_fmt yuv420p -c:a aac ${file}`.split(
      ' ',
    ),
  );
  // Its description calls it CAVLC 4:4:4 Intra, which no browser takes.
  const bytes = readFileSync(file);
  const at = bytes.indexOf(Buffer.from([0x17, 0, 0, 0, 0, 1]));
  bytes[at + 6] = 0x2c;
  writeFileSync(file, bytes);
  encoder = spawn(
    'ffmpeg',
    ['-v', 'error', '-nostdin', '-re', '-stream_loop', '-1', '-i', file, '-c', 'copy', '-f', 'flv', address],
    { stdio: 'ignore' },
  );
  await settings()
    .getByText(/its picture cannot be decoded .*send H\.264 in 8 bits/)
    .waitFor();
  encoder.kill('SIGKILL');
  encoder = publish(address, '0x20a040');
  await settings()
    .getByText(/320×180.*shown 0\.\d s after it arrives/)
    .waitFor();
  encoder.kill('SIGKILL');
});

test('an address with mistakes is refused with what to do', async () => {
  const { page } = stage;
  await stage.freshScene();
  await stage.addLayer('Web page…');
  for (const [text, words] of [
    ['file:///etc/passwd', /begins with https/],
    ['https://name with spaces', /There is a space in/],
  ] as const) {
    await settings().getByLabel('Address').fill(text);
    await settings().getByRole('button', { name: 'Use', exact: true }).click();
    await page.getByText(words).first().waitFor();
  }
  await settings()
    .getByText(/no address yet/)
    .waitFor();
});
