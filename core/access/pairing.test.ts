import { expect, test } from 'vitest';
import { pairingWord, readPairing } from './pairing';

const TOKEN = 'abcdefghijklmnopqrstuvwxyz-_0123456789';

test('what a door prints is read back, with and without a fingerprint', () => {
  for (const fingerprint of [
    null,
    Array.from({ length: 32 }, (_, i) => (i + 200).toString(16).toUpperCase().slice(-2)).join(':'),
  ]) {
    const pairing = { url: 'https://door.example:4443/', token: TOKEN, fingerprint };
    expect(readPairing(` ${pairingWord(pairing)}\n`)).toEqual(pairing);
  }
  expect(readPairing(`HTTPS://Door.Example#${TOKEN}`).url).toBe('https://door.example/');
});

test.each([
  '',
  'https://door.example/',
  `http://door.example/#${TOKEN}`,
  `https://somebody@door.example/#${TOKEN}`,
  `https://door.example/elsewhere#${TOKEN}`,
  'https://door.example/#short',
  `https://door.example/#${TOKEN}.abc`,
  `https://door example/#${TOKEN}`,
])('%j is refused with words', (word) => {
  expect(() => readPairing(word)).toThrow(/not what a door prints/);
});
