import { expect, test } from 'vitest';
import { heardIn } from './heard';
import { PLAIN_CHANNEL, type ChannelRecord } from './records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene } from './sample-show';

const at = (sceneId: string) => ({ sceneId, poseId: null });

const document = sampleDocument(
  sampleScene('a'),
  sampleScene('b', { position: 1 }),
  sampleInput('cam'),
  sampleLayer('l', 'a', 0, { content: { type: 'input', inputId: 'cam', fit: 'fill' } }),
);
const channel = (part: Partial<ChannelRecord>): ChannelRecord => ({
  kind: 'channel',
  id: 'c',
  showId: 'show',
  name: 'c',
  position: 0,
  source: { type: 'effects' },
  ...PLAIN_CHANNEL,
  gainDb: 0,
  ...part,
});

test.each([
  ['always', {}, true, true, true],
  ['in chosen scenes', { heard: 'scenes', sceneIds: ['b', 'gone'] }, false, true, false],
  ['with its picture', { heard: 'with-picture', pictureInputId: 'cam' }, true, false, false],
  ['with a picture that is gone', { heard: 'with-picture', pictureInputId: null }, false, false, false],
] as [string, Partial<ChannelRecord>, boolean, boolean, boolean][])(
  '%s',
  (_name, part, inA, inB, nowhere) => {
    expect([heardIn(document, channel(part), at('a')), heardIn(document, channel(part), at('b'))]).toEqual([
      inA,
      inB,
    ]);
    expect(heardIn(document, channel(part), null)).toBe(nowhere);
  },
);

test('music that is stopped is not heard anywhere', () => {
  const source = { type: 'music', files: [], order: 'listed', loop: true, playing: false } as const;
  expect(heardIn(document, channel({ source: { ...source, files: [] } }), at('a'))).toBe(false);
  expect(heardIn(document, channel({ source: { ...source, files: [], playing: true } }), at('a'))).toBe(true);
});
