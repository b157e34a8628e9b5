// Channels with full voice chains, to load the sound thread in a rehearsal.
// A microphone is one voice; a stereo channel would cost twice as much.
const SOUNDS = ['voice', 'voice-call'];

/** The five processors of a voice, all working; every value within its range. */
function chain(noise) {
  const bands = [
    ['high-pass', 80, 0],
    ['low-shelf', 200, 1.5],
    ['bell', 1000, -2.5],
    ['bell', 3000, 1.5],
    ['high-shelf', 9000, 1],
  ].map(([shape, frequencyHz, gainDb]) => ({ on: true, shape, frequencyHz, gainDb, q: 0.71 }));
  return {
    bypassed: false,
    processors: [
      ...(noise ? [{ id: 'noise', type: 'noise', on: true, values: { amount: 80 } }] : []),
      {
        id: 'gate',
        type: 'gate',
        on: true,
        values: {
          openDb: -50,
          closeDb: -55,
          attackMs: 1,
          holdMs: 100,
          releaseMs: 250,
          rangeDb: 60,
          keyHz: 120,
        },
      },
      {
        id: 'compressor',
        type: 'compressor',
        on: true,
        values: { thresholdDb: -24, ratio: 4, kneeDb: 6, attackMs: 1, releaseMs: 60, makeUpDb: 6 },
        autoMakeUp: false,
      },
      { id: 'equaliser', type: 'equaliser', on: true, values: {}, bands },
      { id: 'limiter', type: 'limiter', on: true, values: { ceilingDb: -1, releaseMs: 80 } },
    ],
  };
}

/** @returns channel records, `count` of them, noise reduction on the first four */
export function manyChannels(showId, count) {
  return Array.from({ length: count }, (_, i) => ({
    kind: 'channel',
    id: `ch-load-${i}`,
    showId,
    name: `Load ${i + 1}`,
    position: 20 + i,
    source: { type: 'simulated', sound: SOUNDS[i % SOUNDS.length] },
    colour: 'slate',
    trimDb: 0,
    gainDb: -40,
    muted: false,
    pan: 0,
    mono: false,
    inverted: false,
    offsetMs: 0,
    monitor: 'off',
    tracks: [1],
    role: 'background',
    heard: 'always',
    pictureInputId: null,
    sceneIds: [],
    fadeSeconds: 0.5,
    chain: chain(i < 4),
    ducking: null,
  }));
}
