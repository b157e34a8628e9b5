import { describe, expect, test } from 'vitest';
import { preflight, toMend, type Check, type PreflightFacts } from './preflight';
import { camera, find, GOOD, larch, look, voice } from './sample-preflight';

test('a plan that is just carried is said to be, and is no trouble', () => {
  expect(find(look({ computer: { share: 0.7, verdict: 'tight', left: 0.1 } }), 'computer')).toMatchObject({
    state: 'fine',
    text: 'just carries the plan: 70% of a core',
  });
  expect(find(preflight(GOOD), 'computer').text).toBe('the plan takes 30% of a core');
});

test('a good evening has nothing to mend, and says how things are', () => {
  const checks = preflight(GOOD);
  expect(checks.filter((c) => c.state !== 'fine')).toEqual([]);
  expect(toMend(checks)).toBe(0);
  expect(find(checks, 'disk').text).toBe('200 GB free: 148 h at this rate');
  expect(find(checks, 'plan').text).toBe('41% of the connection (at most 70)');
});

describe('each fault is found, said, and has what mends it', () => {
  const cases: [string, Partial<PreflightFacts>, string, Check['state'], RegExp, string | null][] = [
    [
      'a failed camera',
      { inputs: [{ ...camera, state: 'failed', message: 'was denied' }] },
      'input:cam',
      'stop',
      /denied/,
      'openStage',
    ],
    [
      'a recording folder that is gone',
      { folderProblem: '/films is not there: make it, or put the disk in, then try again' },
      'disk',
      'warn',
      /not there.*own folder/,
      'openKeeping',
    ],
    [
      'one key for two',
      { destinations: [{ ...larch, sameKeyAs: 'Cairn' }] },
      'destination:larch',
      'stop',
      /Same stream key as Cairn/,
      'enterKey',
    ],
    [
      'no encoder on the server',
      { destinations: [{ ...larch, noServerEncoder: true }] },
      'destination:larch',
      'warn',
      /no ffmpeg/,
      'openDestination',
    ],
    ['a black camera', { inputs: [{ ...camera, look: 'black' }] }, 'input:cam', 'stop', /black/, 'openStage'],
    [
      'a frozen camera',
      { inputs: [{ ...camera, look: 'still' }] },
      'input:cam',
      'warn',
      /not moved/,
      'openStage',
    ],
    [
      'a heavy clip',
      { inputs: [{ ...camera, id: 'clip', onAir: false, heavy: true, keepReady: false }] },
      'heavy:clip',
      'warn',
      /late/,
      'keepReady',
    ],
    ['no sound', { soundRunning: false }, 'sound', 'stop', /click/, 'startSound'],
    ['no voice', { voices: [] }, 'sound', 'warn', /no host/, 'openSound'],
    ['a muted voice', { voices: [{ ...voice, muted: true }] }, 'voice:v', 'stop', /muted/, 'unmute'],
    ['a silent voice', { voices: [{ ...voice, peakDb: null }] }, 'voice:v', 'warn', /silent/, 'openSound'],
    ['a clipping voice', { voices: [{ ...voice, clips: 3 }] }, 'voice:v', 'warn', /clipped/, 'openSound'],
    [
      'a missing microphone',
      { voices: [{ ...voice, problem: 'was unplugged' }] },
      'voice:v',
      'stop',
      /unplugged/,
      'openSound',
    ],
    ['a loud programme', { lufs: -10 }, 'programme', 'warn', /turn it down/, 'openSound'],
    ['a quiet programme', { lufs: -30 }, 'programme', 'warn', /quiet/, 'openSound'],
    ['an echo', { echo: 'The stream plays in a tab' }, 'programme', 'stop', /tab/, 'fixEcho'],
    ['no destination', { destinations: [] }, 'destinations', 'warn', /only be recorded/, 'openDestination'],
    [
      'a missing key',
      { destinations: [{ ...larch, hasKey: false }] },
      'destination:larch',
      'stop',
      /No stream key/,
      'enterKey',
    ],
    [
      'a key whose file is lost',
      { destinations: [{ ...larch, hasKey: false, keyLost: true }] },
      'destination:larch',
      'stop',
      /Enter it again/,
      'enterKey',
    ],
    [
      "yesterday's key",
      { destinations: [{ ...larch, freshKey: true, keyUsed: false, keyAgeHours: 20 }] },
      'destination:larch',
      'stop',
      /yesterday/,
      'enterKey',
    ],
    [
      'a used key',
      { destinations: [{ ...larch, freshKey: true, keyAgeHours: 1 }] },
      'destination:larch',
      'stop',
      /another broadcast/,
      'enterKey',
    ],
    [
      'no title',
      { destinations: [{ ...larch, needsTitle: true }] },
      'destination:larch',
      'warn',
      /title/,
      'openDestination',
    ],
    [
      'no picture for it',
      { destinations: [{ ...larch, encode: null }] },
      'destination:larch',
      'stop',
      /no picture/,
      'proposePlan',
    ],
    [
      'a plan above the line',
      {
        planWarnings: [
          { level: 'warn', text: 'thin' },
          { level: 'stop', text: 'more than the line' },
        ],
      },
      'plan',
      'stop',
      /more than/,
      'proposePlan',
    ],
    ['an unknown line', { lineKbps: null }, 'line', 'unknown', /guess/, 'measureLine'],
    ['an old test', { lineTestAgeHours: 50 }, 'line', 'warn', /long ago/, 'measureLine'],
    ['no relay', { relayGone: true }, 'line', 'stop', /relay/, null],
    ['a slow machine', { fps: 20 }, 'machine', 'warn', /20 of 30/, 'proposePlan'],
    [
      'a computer that was not measured',
      { computer: null },
      'computer',
      'unknown',
      /never measured/,
      'measureComputer',
    ],
    [
      'a plan that is too much',
      { computer: { share: 0.92, verdict: 'no', left: 0 } },
      ...(['computer', 'warn', /92% of a core/, 'proposePlan'] as const),
    ],
    ['slipping clocks', { clockSlips: 4 }, 'machine', 'warn', /4 times/, null],
    ['a full disk', { freeBytes: 1e9 }, 'disk', 'stop', /enough for 44 min/, 'openVault'],
    ['a disk just large enough', { freeBytes: 4.2e9 }, 'disk', 'warn', /186 min/, 'openVault'],
    [
      'a screen that shows the studio',
      { capturesStudio: ['Screen'] },
      'secrets',
      'warn',
      /Screen shows the whole screen/,
      'openStage',
    ],
  ];
  test.each(cases)('%s', (_, more, id, state, words, fix) => {
    const check = find(look(more), id);
    expect(check.state).toBe(state);
    expect(check.text).toMatch(words);
    expect(check.fix?.fix ?? null).toBe(fix);
  });
});

test('a lasting key may be old and used', () => {
  expect(find(look({ destinations: [{ ...larch, keyAgeHours: 9999 }] }), 'destination:larch').state).toBe(
    'fine',
  );
});

test('what comes next is named, with what it still waits for', () => {
  expect(find(preflight(GOOD), 'next')).toMatchObject({ state: 'fine', text: 'Talk, ready' });
  const waits = find(look({ next: { name: 'Levers', missing: ['Lever camera', 'Clip'] } }), 'next');
  expect(waits).toMatchObject({ state: 'warn', fix: { fix: 'openStage' } });
  expect(waits.text).toBe('Levers, but Lever camera and Clip have no picture yet');
  expect(find(look({ next: { name: 'Levers', missing: ['A', 'B', 'C'] } }), 'next').text).toBe(
    'Levers, but A, B and C have no picture yet',
  );
  expect(find(look({ next: null }), 'next').text).toMatch(/last in the list/);
});

test('a plan that was made for an encoder which is not here says so', () => {
  const check = find(preflight({ ...GOOD, encoderGone: 'GPU' }), 'plan');
  expect(check).toMatchObject({ state: 'warn' });
  expect(check.text).toMatch(/^The GPU encoder of this plan is not available here/);
  const planWarnings = [{ level: 'stop', text: 'too much' }] as const;
  const worse = find(preflight({ ...GOOD, encoderGone: 'GPU', planWarnings }), 'plan');
  expect(worse).toMatchObject({ state: 'stop', text: 'too much' });
});
