/** Words read aloud by the engine that Debian ships, judged by ffmpeg. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from 'vitest';
import { Speech } from '../../server/audience/speech';
import { ffmpeg, meanDb } from '../lib/sound-files';

test('a sentence lasts longer than a word, and both are loud enough to be heard', async () => {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-speech-'));
  try {
    const speech = new Speech(folder);
    expect(speech.available).toBe(true);
    const seconds = (file: string) => {
      const found = /Duration: 00:00:(\d\d\.\d\d)/.exec(ffmpeg(['-i', file, '-f', 'null', '-']));
      return Number(found?.[1]);
    };
    const word = await speech.file('snow');
    const sentence = await speech.file('mossbell gives twelve euros for the roof of hut nine');
    expect(seconds(word)).toBeGreaterThan(0.2);
    expect(seconds(sentence)).toBeGreaterThan(2 * seconds(word));
    for (const file of [word, sentence]) expect(meanDb(file)).toBeGreaterThan(-35);
  } finally {
    rmSync(folder, { recursive: true });
  }
});
