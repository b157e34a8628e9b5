import { describe, expect, test } from 'vitest';
import { preflight, toMend, type Check, type PreflightFacts, type PreflightInput } from './preflight';

const camera: PreflightInput = {
  id: 'cam',
  name: 'Desk camera',
  state: 'ready',
  message: '',
  onAir: true,
  look: 'moving',
  live: true,
  keepReady: true,
  heavy: false,
};
const larch = {
  id: 'larch',
  name: 'Larch',
  hasKey: true,
  keyLost: false,
  freshKey: false,
  keyAgeHours: 400,
  keyUsed: true,
  sameKeyAs: null,
  needsTitle: false,
  encode: 'wide' as const,
  noServerEncoder: false,
};
const voice = { id: 'v', name: 'Voice', muted: false, peakDb: -9, clips: 0, problem: null };
const GOOD: PreflightFacts = {
  inputs: [camera],
  soundRunning: true,
  voices: [voice],
  lufs: -16.2,
  targetLufs: -16,
  echo: null,
  destinations: [larch],
  folderProblem: null,
  freeBytes: 200e9,
  recordKbps: 3000,
  plannedMinutes: 180,
  uploadKbps: 4000,
  lineKbps: 9700,
  headroom: 0.3,
  lineTestAgeHours: 0.1,
  encoderGone: null,
  computer: { share: 0.3, verdict: 'room', left: 0.4 },
  planWarnings: [],
  relayGone: false,
  fps: 30,
  plannedFps: 30,
  clockSlips: 0,
  next: { name: 'Talk', missing: [] },
  capturesStudio: [],
};
const look = (more: Partial<PreflightFacts>) => preflight({ ...GOOD, ...more });
const find = (checks: Check[], id: string) => checks.find((c) => c.id === id)!;

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

describe('to the word', () => {
  const said = (more: Partial<PreflightFacts>, ...ids: string[]) =>
    look(more)
      .filter(({ id }) => ids.length === 0 || ids.includes(id))
      .map(({ name, state, text, fix }) => `${state} ${name}: ${text}${fix ? ` [${fix.label}]` : ''}`);
  const input = (more: Partial<PreflightInput>) =>
    said({ inputs: [{ ...camera, ...more }] }, 'input:cam', 'heavy:cam');
  const to = (more: Partial<typeof larch>) =>
    said({ destinations: [{ ...larch, ...more }] }, 'destination:larch');

  test('a good evening', () => {
    expect(said({})).toMatchInlineSnapshot(`
      [
        "fine Desk camera: moving",
        "fine Next scene: Talk, ready",
        "fine Voice: present, peaks −9 dB",
        "fine Programme: −16.2 LUFS, no echo",
        "fine Larch: key stored, ready",
        "fine Plan: 41% of the connection (at most 70)",
        "fine Connection: 9.7 Mbps, measured today",
        "fine Rendering: 30 fps, clocks agree",
        "fine This computer: the plan takes 30% of a core",
        "fine Disk: 200 GB free: 148 h at this rate",
        "fine Secrets: none visible on shared screens",
      ]
    `);
  });
  test('inputs', () => {
    expect(input({ state: 'failed', message: '' })).toMatchInlineSnapshot(`
      [
        "stop Desk camera: No signal [Open]",
      ]
    `);
    expect(input({ state: 'failed', message: 'Unplugged', onAir: false })).toMatchInlineSnapshot(`
      [
        "stop Desk camera: Unplugged [Open]",
      ]
    `);
    expect(input({ state: 'waiting', message: '' })).toMatchInlineSnapshot(`
      [
        "warn Desk camera: Waiting for signal [Open]",
      ]
    `);
    expect(input({ state: 'waiting', message: 'Loading' })).toMatchInlineSnapshot(`
      [
        "warn Desk camera: Loading [Open]",
      ]
    `);
    expect(input({ state: 'asleep', look: null })).toMatchInlineSnapshot(`
      [
        "fine Desk camera: opens when it is shown",
      ]
    `);
    expect(input({ look: null })).toMatchInlineSnapshot(`
      [
        "fine Desk camera: there",
      ]
    `);
    expect(input({ look: 'still', live: false })).toMatchInlineSnapshot(`
      [
        "fine Desk camera: there",
      ]
    `);
    expect(input({ look: 'still' })).toMatchInlineSnapshot(`
      [
        "warn Desk camera: has not moved for a while: it may hang [Open]",
      ]
    `);
    expect(input({ onAir: false })).toEqual([]);
    expect(input({ onAir: false, heavy: true })).toEqual([]);
    expect(input({ onAir: true, heavy: true, keepReady: false })).toHaveLength(1);
    expect(input({ onAir: false, heavy: false, keepReady: false })).toEqual([]);
    expect(input({ onAir: false, heavy: true, keepReady: false })).toMatchInlineSnapshot(`
      [
        "warn Desk camera: is opened when it is first shown: it may come late [Keep ready]",
      ]
    `);
    expect(said({ next: { name: 'Levers', missing: ['A'] } }, 'next')).toMatchInlineSnapshot(`
      [
        "warn Next scene: Levers, but A has no picture yet [Open]",
      ]
    `);
  });
  test('sound', () => {
    const second = { ...voice, id: 'w', name: 'Second voice' };
    const of = (...voices: (typeof voice)[]) => said({ voices }, 'voice', 'voice:v', 'voice:w', 'sound');
    expect(said({ soundRunning: false })).toContainEqual(expect.stringContaining('Sound'));
    expect(of({ ...voice, muted: true }, second)).toMatchInlineSnapshot(`
      [
        "stop Voice: is muted: nobody hears it [Unmute]",
        "fine Second voice: present, peaks −9 dB",
      ]
    `);
    expect(of(voice, { ...second, muted: true })).toMatchInlineSnapshot(`
      [
        "fine Voice: present, peaks −9 dB",
        "warn Second voice: is muted: nobody hears it [Unmute]",
      ]
    `);
    expect(of({ ...voice, muted: true }, { ...second, muted: true })).toMatchInlineSnapshot(`
      [
        "stop Voice: is muted: nobody hears it [Unmute]",
        "stop Second voice: is muted: nobody hears it [Unmute]",
      ]
    `);
    expect(said({ voices: [] })).toMatchInlineSnapshot(`
      [
        "fine Desk camera: moving",
        "fine Next scene: Talk, ready",
        "warn Voice: there is no voice channel: viewers hear no host [Open Sound]",
        "fine Programme: −16.2 LUFS, no echo",
        "fine Larch: key stored, ready",
        "fine Plan: 41% of the connection (at most 70)",
        "fine Connection: 9.7 Mbps, measured today",
        "fine Rendering: 30 fps, clocks agree",
        "fine This computer: the plan takes 30% of a core",
        "fine Disk: 200 GB free: 148 h at this rate",
        "fine Secrets: none visible on shared screens",
      ]
    `);
    expect(said({ lufs: null }, 'programme')).toMatchInlineSnapshot(`
      [
        "unknown Programme: nothing to hear yet",
      ]
    `);
    expect(said({ soundRunning: false }, 'programme')).toMatchInlineSnapshot(`
      [
        "unknown Programme: nothing to hear yet",
      ]
    `);
    expect(said({ lufs: -12 }, 'programme')).toMatchInlineSnapshot(`
      [
        "fine Programme: −12.0 LUFS, no echo",
      ]
    `);
    expect(said({ lufs: -11.9 }, 'programme')).toMatchInlineSnapshot(`
      [
        "warn Programme: −11.9 LUFS: platforms will turn it down [Open Sound]",
      ]
    `);
    expect(said({ lufs: -24 }, 'programme')).toMatchInlineSnapshot(`
      [
        "fine Programme: −24.0 LUFS, no echo",
      ]
    `);
    expect(said({ lufs: -24.1 }, 'programme')).toMatchInlineSnapshot(`
      [
        "warn Programme: −24.1 LUFS: quiet beside other broadcasts [Open Sound]",
      ]
    `);
  });
  test('destinations and their keys', () => {
    expect(said({ destinations: [] }).filter((words) => words.includes('Destinations')))
      .toMatchInlineSnapshot(`
      [
        "warn Destinations: none is switched on: it would only be recorded [Choose]",
      ]
    `);
    expect(to({ hasKey: false })).toMatchInlineSnapshot(`
      [
        "stop Larch: No stream key [Enter key]",
      ]
    `);
    expect(to({ freshKey: true, keyUsed: false, keyAgeHours: 12 })).toMatchInlineSnapshot(`
      [
        "fine Larch: key stored, ready",
      ]
    `);
    expect(to({ freshKey: true, keyUsed: false, keyAgeHours: 12.1 })).toMatchInlineSnapshot(`
      [
        "stop Larch: its key is from yesterday: it wants a new one [New key]",
      ]
    `);
    expect(to({ freshKey: true, keyUsed: true })).toMatchInlineSnapshot(`
      [
        "stop Larch: its key was used for another broadcast: it wants a new one [New key]",
      ]
    `);
    expect(to({ encode: null } as unknown as Partial<typeof larch>)).toMatchInlineSnapshot(`
      [
        "stop Larch: the plan makes no picture for it: give its frame a size [Propose plan]",
      ]
    `);
    expect(to({ noServerEncoder: true })).toMatchInlineSnapshot(`
      [
        "warn Larch: is to be encoded on the server, which has no ffmpeg with x264: it would get what the desk makes [Change]",
      ]
    `);
    expect(to({ needsTitle: true })).toMatchInlineSnapshot(`
      [
        "warn Larch: has no title: viewers do not see what it is [Write it]",
      ]
    `);
    expect(to({ sameKeyAs: 'Cairn' } as unknown as Partial<typeof larch>)).toMatchInlineSnapshot(`
      [
        "stop Larch: Same stream key as Cairn. Enter the correct one. [New key]",
      ]
    `);
  });
  test('plan, connection, computer, disk, secrets', () => {
    expect(said({ lineKbps: null }, 'plan', 'line')).toMatchInlineSnapshot(`
      [
        "fine Plan: 4.0 Mbps, keyframe every 2 s",
        "unknown Connection: was never measured: the plan is a guess [Measure]",
      ]
    `);
    expect(said({ lineTestAgeHours: null }, 'line')).toMatchInlineSnapshot(`
      [
        "warn Connection: 9.7 Mbps, measured long ago [Measure]",
      ]
    `);
    expect(said({ lineTestAgeHours: 24 }, 'line')).toEqual(['fine Connection: 9.7 Mbps, measured today']);
    expect(said({ lineTestAgeHours: 24.1 }, 'line')).toHaveLength(1);
    expect(said({ relayGone: true }, 'line')).toMatchInlineSnapshot(`
      [
        "stop Connection: no answer from the relay: it is being restarted",
      ]
    `);
    expect(said({ fps: 27 }, 'machine')).toEqual(['fine Rendering: 27 fps, clocks agree']);
    expect(said({ fps: 26 }, 'machine')).toMatchInlineSnapshot(`
      [
        "warn Rendering: renders 26 of 30 fps: choose a smaller size [Propose plan]",
      ]
    `);
    expect(said({ freeBytes: null }, 'disk')).toMatchInlineSnapshot(`
      [
        "unknown Disk: Free space unknown. Check the recording folder.",
      ]
    `);
    expect(said({ recordKbps: 0 }, 'disk')).toMatchInlineSnapshot(`
      [
        "fine Disk: 200 GB free, nothing is recorded",
      ]
    `);
    expect(said({ recordKbps: 0, folderProblem: 'gone' }, 'disk')).toHaveLength(1);
    expect(said({ folderProblem: 'The folder is gone' }, 'disk')).toMatchInlineSnapshot(`
      [
        "warn Disk: The folder is gone. Until then recordings go to the studio’s own folder [Choose]",
      ]
    `);
    expect(said({ freeBytes: 1e9 }, 'disk')).toMatchInlineSnapshot(`
      [
        "stop Disk: 1 GB free: enough for 44 min, the evening is planned for 180 [Free up space]",
      ]
    `);
    expect(said({ capturesStudio: ['Screen', 'Second screen'] }, 'secrets')).toMatchInlineSnapshot(`
      [
        "warn Secrets: Screen and Second screen show the whole screen: keys stay hidden, but if the studio is on it, chat and notes are seen [Open]",
      ]
    `);
  });
  test('only what must be mended is counted', () => {
    expect(toMend(look({ relayGone: true, clockSlips: 3, freeBytes: 1e9 }))).toBe(2);
  });
});
