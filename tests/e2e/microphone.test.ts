/** Sound from the browser's own microphone, which plays files made for it: soundcheck and echo finder as a user meets them. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { eventually } from '../lib/relay-process';
import { roundNoise, soundcheckVoice } from '../lib/sound-files';
import { SELDOM, StudioFixture } from '../lib/studio-fixture';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-microphone-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('a real microphone', () => {
  test('the soundcheck sets it up; applied with one press, taken back with one', async () => {
    const file = path.join(folder, 'microphone.wav');
    soundcheckVoice(file);
    const own = await StudioFixture.start(
      { args: [`--use-file-for-fake-audio-capture=${file}`] },
      { fps: SELDOM },
    );
    try {
      const desk = await own.open('sound');
      await desk.mouse.click(640, 795);
      await desk.getByRole('button', { name: 'Add channel' }).click();
      await desk
        .getByRole('menuitem')
        .filter({ hasText: /fake|default/i })
        .first()
        .click();
      const microphone = desk.getByRole('group', { name: /fake|default/i }).first();
      await eventually(
        async () => !/^—$/.test((await microphone.locator('.channel-lufs').textContent())!),
        20_000,
      );
      await desk.getByText('Nothing shapes').waitFor();
      await desk.getByRole('button', { name: 'Soundcheck' }).click();
      const dialog = desk.getByRole('dialog', { name: /^Soundcheck/ });
      await dialog.getByRole('button', { name: 'Begin' }).click();
      await dialog.getByTestId('soundcheck-result').waitFor({ timeout: 60_000 });
      expect(await dialog.getByTestId('soundcheck-result').textContent()).toMatch(/→ −1[56]\.\d LUFS/);
      await dialog.getByText(/Input gain/).waitFor();
      await dialog.getByRole('button', { name: 'Apply' }).click();
      await desk.getByRole('region', { name: /Compressor/ }).waitFor();
      await desk.keyboard.press('Control+z');
      await desk.getByText('Nothing shapes').waitFor();
    } finally {
      await own.stop();
    }
  });

  test('what the microphone hears of the programme is found, named, and can be cured', async () => {
    const file = path.join(folder, 'round.wav');
    roundNoise(file, 1.2);
    const own = await StudioFixture.start(
      { args: [`--use-file-for-fake-audio-capture=${file}`] },
      { fps: SELDOM },
    );
    try {
      await own.edit('Quiet', [], ['ch-game', 'ch-music', 'ch-voice', 'ch-call']);
      const desk = await own.open('sound');
      await desk.mouse.click(640, 795);
      await desk.getByRole('button', { name: 'Add channel' }).click();
      await desk.getByLabel('Music files').setInputFiles(file);
      await desk.getByRole('group', { name: 'Music' }).getByText('round').waitFor();
      await desk.getByRole('button', { name: 'Add channel' }).click();
      await desk
        .getByRole('menuitem')
        .filter({ hasText: /fake|default/i })
        .first()
        .click();
      const notice = desk.getByTestId('echo');
      await notice.waitFor({ timeout: 60_000 });
      expect(await notice.textContent()).toMatch(/\d+ ms later/);
      await notice.getByRole('button', { name: /^Mute/ }).click();
      await notice.waitFor({ state: 'detached', timeout: 60_000 });
    } finally {
      await own.stop();
    }
  });
});
