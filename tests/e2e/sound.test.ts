/** Sound in the real interface; what the mixer makes of it is judged offline (tests/driven/sound.test.ts). */
import { spawnSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { describe, expect, test } from 'vitest';
import { PLAIN_CHANNEL, type AnyRecord, type ChannelRecord } from '../../core/show/records';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import { ffmpeg, integratedLufs } from '../lib/sound-files';
import { goLive, SHOW, stopLive, StudioFixture } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

let fixture: StudioFixture;
let page: Page;

const channel = (
  id: string,
  name: string,
  source: ChannelRecord['source'],
  more: Partial<ChannelRecord>,
): AnyRecord => ({
  kind: 'channel',
  id,
  showId: SHOW,
  name,
  position: 0,
  source,
  ...PLAIN_CHANNEL,
  gainDb: 0,
  ...more,
});
const row = (name: string) => page.getByRole('group', { name, exact: true });
const choose = (name: string) =>
  row(name)
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .first()
    .click();
const view = (name: string) => page.getByRole('tab', { name }).click();
const preset = async (name: string) => {
  await page.getByRole('button', { name: 'Presets' }).click();
  await page.getByRole('menuitem', { name }).first().click();
  await page.locator('.MuiModal-root').waitFor({ state: 'detached' });
};
const newest = () => {
  const folder = path.join(fixture.data, 'recordings');
  return path.join(folder, readdirSync(folder).sort().at(-1)!);
};

freshStart(
  async () => {
    fixture = await StudioFixture.start({}, { fps: 10 });
    // Viewers set off alerts, which sound too: here only what the tests play shall be heard.
    await fixture.quiet();
    page = await fixture.open('sound');
    await page.mouse.click(640, 795);
  },
  () => fixture?.stop(),
);
/** The page's own reading of what viewers hear, over the last 0.4 s. */
const momentary = () => page.getByTestId('momentary');
const silent = () => momentary().filter({ hasText: /^(—|−[5-9]\d)/ });
const sounding = () => momentary().filter({ hasText: /^−[1-4]\d/ });

describe('what a hand does is heard', () => {
  test('a test tone is muted at first; it has the level it is set to', async () => {
    await page.getByRole('button', { name: 'Add channel' }).click();
    await page.getByRole('menuitem', { name: /^Test tone/ }).click();
    await page.locator('.MuiModal-root').waitFor({ state: 'detached' });
    const tone = row('Test tone');
    await tone.getByRole('button', { name: 'Muted' }).waitFor();
    // As loud as EBU Tech 3341 says of a sine on both sides.
    await tone.getByText(/^−18\.[01]$/).waitFor();
    await view('Channel');
    const level = page.getByLabel('Level', { exact: true });
    await level.fill('-30');
    await level.press('Enter');
    await tone.getByText(/^−(29\.9|30\.[01])$/).waitFor();
    await view('Voice chain');
  });

  test('preset, make-up and equaliser reach the chain; all mute is silence', async () => {
    await choose('Voice');
    await preset('Nothing');
    await page.getByText('Nothing shapes Voice yet').waitFor();
    await preset('Voice the five');
    const compressor = page.getByRole('region', { name: '3 Compressor' });
    const makeUp = compressor.getByLabel('Compressor: Make-up gain in dB');
    await makeUp.fill('16');
    await makeUp.press('Enter');
    // A low-pass at 1 kHz as the sixth band, typed.
    const equaliser = page.getByRole('region', { name: '4 Equaliser' });
    await equaliser.getByRole('button', { name: 'Add a band' }).click();
    await equaliser.getByLabel('Shape of band 6').selectOption('low-pass');
    const frequency = equaliser.getByLabel('Band 6: Frequency in Hz');
    await frequency.fill('1000');
    await frequency.press('Enter');
    // As the sound thread reckons it.
    await page.getByText('Latency 25.0 ms (compensated)').waitFor();
    const voice = async () => (await fixture.records()).find((r) => r.id === 'ch-voice');
    await eventually(async () => {
      const record = await voice();
      if (record?.kind !== 'channel') return false;
      const { processors } = record.chain;
      const bands = processors.flatMap((p) => (p.type === 'equaliser' ? p.bands : []));
      const made = processors.find((p) => p.type === 'compressor');
      return (
        processors.map((p) => p.type).join() === 'noise,gate,compressor,equaliser,limiter' &&
        made?.type === 'compressor' &&
        made.values.makeUpDb === 16 &&
        bands.at(-1)?.shape === 'low-pass' &&
        bands.at(-1)?.frequencyHz === 1000
      );
    });
    await sounding().waitFor();
    await page.getByRole('button', { name: 'Mute all' }).click();
    await silent().waitFor();
    await page.getByRole('button', { name: 'All is mute' }).click();
    await sounding().waitFor();
    for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
  });

  test('cough mutes only while it is held, by pointer and by key', async () => {
    await fixture.edit('Steady voice', [
      channel(
        'ch-steady',
        'Steady',
        { type: 'simulated', sound: 'night-music' },
        { role: 'voice', position: 7 },
      ),
    ]);
    await page.reload();
    await page.mouse.click(640, 795);
    // Nothing else is heard.
    for (const name of ['Voice', 'Switchback Freight', 'Night music'])
      await row(name).getByRole('button', { name: 'Mute', exact: true }).click();
    await sounding().waitFor();
    const cough = await page.getByRole('button', { name: 'Cough' }).boundingBox();
    await page.mouse.move(cough!.x + 20, cough!.y + 10);
    await page.mouse.down();
    await silent().waitFor();
    await page.mouse.up();
    await sounding().waitFor();
    await page.locator('body').press('Tab');
    await page.keyboard.down('c');
    await silent().waitFor();
    await page.keyboard.up('c');
    await sounding().waitFor();
    for (const name of ['Voice', 'Switchback Freight', 'Night music'])
      await row(name).getByRole('button', { name: 'Muted', exact: true }).click();
    await fixture.edit('Steady gone', [], ['ch-steady']);
    await page.reload();
    await page.mouse.click(640, 795);
  });

  test('an offset is typed, and a broadcast carries every track that a channel is on', async () => {
    await choose('Night music');
    await view('Channel');
    const offset = page.getByLabel('Sync offset');
    await offset.fill('300');
    await offset.press('Enter');
    const music = async () => (await fixture.records()).find((r) => r.id === 'ch-music');
    await eventually(async () => {
      const record = await music();
      return record?.kind === 'channel' && record.offsetMs === 300;
    });
    await page.keyboard.press('Control+z');
    await goLive(page);
    await eventually(async () => (await fixture.health()).relay?.session?.state === 'live', 60_000);
    // A second of it and more: the recorder writes by clusters.
    await eventually(async () =>
      (await fixture.health()).relay!.session!.destinations.every((d) => d.framesSent > 30),
    );
    await stopLive(page);
    const probe = spawnSync('ffprobe', [
      ...'-v error -select_streams a -show_streams -of json'.split(' '),
      newest(),
    ]);
    const { streams } = JSON.parse(String(probe.stdout)) as { streams: { tags?: { title?: string } }[] };
    expect(streams.map((s) => s.tags?.title)).toEqual(['Programme', 'Voices', 'Game', 'Call']);
    await view('Voice chain');
  });
});

describe('by hand', () => {
  test('a band is dragged and moved by keys; processors change places, go and come back by undo', async () => {
    await view('Voice chain');
    await choose('Voice');
    await preset('Voice the five');
    const equaliser = page.getByRole('region', { name: '4 Equaliser' });
    const handle = equaliser.getByRole('button', { name: /^Band 3, / });
    const box = (await handle.boundingBox())!;
    await page.mouse.move(box.x + 12, box.y + 12);
    await page.mouse.down();
    await page.mouse.move(box.x + 42, box.y - 8, { steps: 4 });
    await page.mouse.up();
    await equaliser.getByRole('button', { name: /^Band 3, Bell, [2-9]\d{3} Hz, [1-9]/ }).waitFor();
    await handle.press('ArrowUp');
    await equaliser.getByRole('button', { name: 'More for Equaliser' }).click();
    await page.getByRole('menuitem', { name: 'One place earlier' }).click();
    await page.getByRole('region', { name: '3 Equaliser' }).waitFor();
    await page
      .getByRole('region', { name: '3 Equaliser' })
      .getByRole('button', { name: 'Equaliser on' })
      .click();
    await page.getByRole('region', { name: '3 Equaliser' }).getByText('off').first().waitFor();
    await page.getByRole('button', { name: 'More for Gate' }).click();
    await page.getByRole('menuitem', { name: 'Remove' }).click();
    await page.getByRole('region', { name: '2 Equaliser' }).waitFor();
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await equaliser.waitFor();
  });

  test('a chain is kept as a preset, copied to another channel, bypassed and compared', async () => {
    await page.getByRole('button', { name: 'Presets' }).click();
    await page.getByRole('menuitem', { name: 'Keep this chain as a preset' }).click();
    await page.getByRole('button', { name: 'Presets' }).click();
    await page.getByRole('menuitem', { name: 'Night music' }).click();
    await choose('Night music');
    await page.getByRole('region', { name: '3 Compressor' }).waitFor();
    await preset('Nothing');
    await preset('Voice 1');
    await page.getByRole('region', { name: '5 Limiter' }).waitFor();
    await page.getByRole('button', { name: 'Bypass all' }).click();
    await page.getByRole('button', { name: 'Bypassed' }).click();
    await page.getByRole('button', { name: 'Compare' }).click();
    await page.getByText(/Switch the headphones on/).waitFor();
    await page.getByRole('button', { name: 'Hearing before' }).click();
    await preset('Nothing');
  });

  test('music and effects are brought in: 44.1 kHz, mono and six channels; a file that is no sound is explained', async () => {
    const files = ['mono', 'six'].map((name) => path.join(fixture.data, `${name}.wav`));
    ffmpeg(['-f', 'lavfi', '-i', 'sine=frequency=440:sample_rate=44100:duration=3', '-ac', '1', files[0]]);
    ffmpeg([
      '-f',
      'lavfi',
      '-i',
      'anoisesrc=r=44100:a=0.2:d=3',
      '-af',
      'pan=5.1|c0=c0|c1=c0|c2=c0|c3=c0|c4=c0|c5=c0',
      files[1],
    ]);
    await page.getByRole('button', { name: 'Add channel' }).click();
    await page.getByLabel('Music files').setInputFiles(files);
    await row('Music').getByText('mono').waitFor();
    await eventually(
      async () => !/—/.test((await row('Music').locator('.channel-lufs').textContent()) ?? '—'),
      15_000,
    );
    await row('Music').getByText('six').waitFor();
    await view('Effects');
    await page.getByLabel('Add effects…').setInputFiles(files[1]);
    await page.getByRole('button', { name: /^six/ }).waitFor();
    const words = path.join(fixture.data, 'words.wav');
    await page
      .getByLabel('Add effects…')
      .setInputFiles({ name: 'words.wav', mimeType: 'audio/wav', buffer: Buffer.from('no sound at all') });
    await page.getByText(/neither picture, video nor sound/).waitFor();
    expect(words).toContain('words');
    const effects = row('Effects').locator('.channel-lufs');
    expect(await effects.textContent()).toBe('—');
    await page.keyboard.press('Alt+3');
    await page.getByRole('button', { name: /^six/ }).click();
    await eventually(async () => (await effects.textContent()) !== '—', 10_000);
    await page.getByRole('button', { name: 'Stop all' }).click();
    await view('Channel');
    await choose('Music');
    await page.getByRole('button', { name: 'Fade the music out' }).click();
    await row('Music').getByText('Music, stopped').waitFor();
    await view('Voice chain');
  });

  test('ten seconds are recorded without a broadcast and judged as ffmpeg judges them', async () => {
    await page.getByRole('button', { name: 'Ten-second test' }).click();
    const dialog = page.getByRole('dialog', { name: 'Ten-second test' });
    await dialog.getByTestId('take-figures').waitFor();
    const shown = Number(
      (await dialog.getByTestId('take-figures').locator('dd').first().textContent())!
        .replace('−', '-')
        .split(' ')[0],
    );
    const download = page.waitForEvent('download');
    await dialog.getByRole('link', { name: 'Keep as WAV' }).click();
    const file = path.join(fixture.data, 'take.wav');
    await (await download).saveAs(file);
    expect(Math.abs(integratedLufs(file) - shown)).toBeLessThan(0.11);
    await dialog.getByRole('button', { name: 'Done' }).click();
    await page.locator('.MuiModal-root').waitFor({ state: 'detached' });
  });

  test('keep my voice above the rest: one press, verified by the measure', async () => {
    const balance = async () =>
      Number(
        /voice (\d+) dB above/.exec((await page.getByTestId('balance').first().textContent()) ?? '')?.[1] ??
          NaN,
      );
    for (const name of ['Switchback Freight', 'Night music']) {
      const muted = row(name).getByRole('button', { name: 'Muted' });
      if (await muted.isVisible()) await muted.click();
    }
    const voiceMuted = row('Voice').getByRole('button', { name: 'Muted' });
    if (await voiceMuted.isVisible()) await voiceMuted.click();
    await eventually(async () => (await balance()) > 0, 40_000);
    await page.getByRole('button', { name: 'Voice above the rest' }).click();
    const dialog = page.getByRole('dialog', { name: 'Voice above the rest' });
    await dialog.getByLabel(/Keep Voice above/).fill('22');
    await dialog.getByLabel(/Keep Voice above/).press('Enter');
    await dialog.getByText('talk is heard').waitFor();
    await dialog.getByRole('button', { name: 'Set it' }).click();
    await eventually(async () => (await balance()) >= 20, 40_000);
    await page.keyboard.press('Escape');
    await page.locator('.MuiModal-root').waitFor({ state: 'detached' });
  });

  test('a channel is heard only in the scenes chosen for it; solo and headphones leave the programme alone', async () => {
    for (const name of ['Voice', 'Switchback Freight', 'Music']) {
      const mute = row(name).getByRole('button', { name: 'Mute', exact: true });
      if (await mute.isVisible()) await mute.click();
    }
    await choose('Night music');
    await view('Channel');
    await page.getByRole('radio', { name: 'Some' }).click();
    await page.getByRole('switch', { name: 'Break' }).click();
    const bring = async (digit: number) => {
      // Keys are not taken from a field or switch that has the focus.
      await page.mouse.click(640, 795);
      await page.keyboard.press(`Shift+${digit}`);
    };
    await bring(1);
    await silent().waitFor();
    await row('Night music').getByText('only in Break').waitFor();
    await bring(4);
    await sounding().waitFor();
    await row('Voice').getByRole('button', { name: 'Solo' }).click();
    await pause(800);
    expect(await momentary().textContent()).toMatch(/^−[1-4]\d/);
    await row('Voice').getByRole('button', { name: 'Solo' }).click();
    await page.getByRole('radio', { name: 'Every scene' }).click();
    await view('Voice chain');
  });

  test('the output of the headphones is chosen, and known again after a reload', async () => {
    await page.getByRole('button', { name: 'Headphones off' }).click();
    const dialog = page.getByRole('dialog', { name: 'Headphones' });
    await dialog.getByLabel('Monitor output').click();
    await page.getByRole('option', { name: 'The system’s own' }).click();
    await dialog.getByLabel('Level').fill('-12');
    await dialog.getByLabel('Level').press('Enter');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /^Headphones( on| ◆)/ }).waitFor();
    await page.reload();
    await page.mouse.click(640, 795);
    await page.getByRole('button', { name: /^Headphones( on| ◆)/ }).click();
    expect(await page.getByRole('dialog', { name: 'Headphones' }).getByLabel('Level').inputValue()).toBe(
      '-12.0',
    );
    await page.keyboard.press('Escape');
    await page.locator('.MuiModal-root').waitFor({ state: 'detached' });
  });

  test('a microphone that is refused is named in its row with what to do; the others go on', async () => {
    await fixture.edit('Refused', [
      channel(
        'ch-refused',
        'Roof microphone',
        { type: 'microphone', deviceId: 'gone', deviceLabel: 'Roof microphone', processed: false },
        { position: 9 },
      ),
    ]);
    await page.reload();
    await page.mouse.click(640, 795);
    await row('Roof microphone')
      .getByText(/Roof microphone is missing: plug it in/)
      .waitFor();
    await fixture.edit('Refused gone', [], ['ch-refused']);
    await page.reload();
    await page.mouse.click(640, 795);
  });

  test('no page threw an error', () => {
    expect(fixture.pageErrors).toEqual([]);
  });
});
