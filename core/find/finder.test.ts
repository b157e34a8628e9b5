import { expect, it } from 'vitest';
import { findings } from './finder';

const all = [
  { id: 'gain', name: 'Make-up gain' },
  { id: 'take', name: 'Take Game' },
  { id: 'game', name: 'Game' },
  { id: 'title', name: 'Text layer', also: ['title', 'lower third', 'caption'] },
  { id: 'key', name: 'Chroma key', also: ['green screen'] },
  { id: 'cafe', name: 'Café camera' },
];
const ids = (typed: string, most = 10) => findings(all, typed, most).map(({ id }) => id);

it('puts the name itself first, then names that have it, then other names', () => {
  expect(ids('game')).toEqual(['game', 'take']);
  expect(ids('lower third')).toEqual(['title']);
  expect(ids('green')).toEqual(['key']);
  expect(ids('ga')).toEqual(['game', 'take', 'gain']);
});

it('wants every word, in any order, whatever the case and the marks', () => {
  expect(ids('GAME take')).toEqual(['take']);
  expect(ids('cafe CAM')).toEqual(['cafe']);
  expect(ids('game chroma')).toEqual([]);
});

it('finds within words from three letters on, and nothing for signs alone', () => {
  expect(ids('roma')).toEqual(['key']);
  expect(ids('am')).toEqual([]);
  expect(ids('  ', 2)).toEqual(['gain', 'take']);
  expect(ids('(*', 2)).toEqual(['gain', 'take']);
});
