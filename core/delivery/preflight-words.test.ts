/** What the checklist says, to the word. */
import { describe, expect, test } from 'vitest';
import { toMend, type PreflightFacts, type PreflightInput } from './preflight';
import { camera, larch, look, voice } from './sample-preflight';

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
