/** The checklist before going live: what is looked at, what it means, what mends it. */
import { withMinus } from '../format/numbers';
import type { Carried } from './computer-measure';
import type { EncodeId } from './encodes';
import { mbps } from './plan-advice';

/** Names in a row: "this, that and this". */
const LIST = new Intl.ListFormat('en-GB');

export const FIXES = [
  'startSound',
  'unmute',
  'openStage',
  'openSound',
  'enterKey',
  'keepReady',
  'proposePlan',
  'measureLine',
  'measureComputer',
  'openVault',
  'openDestination',
  'openKeeping',
  'fixEcho',
] as const;
export type Fix = (typeof FIXES)[number];

export interface Check {
  id: string;
  /** What is checked, in a word or two. */
  name: string;
  /** `stop`: viewers would see or hear nothing, or something wrong; `warn`: worth a look. */
  state: 'fine' | 'warn' | 'stop' | 'unknown';
  /** How it is, and what that means for viewers. */
  text: string;
  /** What mends it: the fix, the record it is about, and its button. */
  fix: { fix: Fix; recordId: string | null; label: string } | null;
}

export interface PreflightInput {
  id: string;
  name: string;
  state: 'ready' | 'waiting' | 'failed' | 'asleep';
  message: string;
  /** Shown by the scene on air. */
  onAir: boolean;
  /** What its picture has been doing; null when it is not looked at. */
  look: 'moving' | 'still' | 'black' | null;
  /** A camera, screen or game: standing still means it hangs. */
  live: boolean;
  keepReady: boolean;
  /** Takes long to start: clips and pages. */
  heavy: boolean;
}

export interface PreflightVoice {
  id: string;
  name: string;
  muted: boolean;
  /** Highest sample of the last seconds, dBFS; null when nothing was heard. */
  peakDb: number | null;
  clips: number;
  problem: string | null;
}

export interface PreflightDestination {
  id: string;
  name: string;
  hasKey: boolean;
  /** It had one, which was lost with the file that opens it. */
  keyLost: boolean;
  /** Wants a key made for this broadcast. */
  freshKey: boolean;
  keyAgeHours: number | null;
  /** The key has been used for a broadcast before. */
  keyUsed: boolean;
  /** Another destination that is on and has the very same key; null when none has. */
  sameKeyAs: string | null;
  needsTitle: boolean;
  encode: EncodeId | null;
  /** Is to be encoded on the server, which has no program for it. */
  noServerEncoder: boolean;
}

export interface PreflightFacts {
  inputs: readonly PreflightInput[];
  soundRunning: boolean;
  voices: readonly PreflightVoice[];
  /** Short-term loudness of the programme, LUFS; null for silence. */
  lufs: number | null;
  targetLufs: number;
  echo: string | null;
  destinations: readonly PreflightDestination[];
  /** Why the folder chosen for recordings cannot be used; null when it can. */
  folderProblem: string | null;
  /** Bytes free where recordings go; null when unknown. */
  freeBytes: number | null;
  recordKbps: number;
  plannedMinutes: number;
  uploadKbps: number;
  lineKbps: number | null;
  headroom: number;
  lineTestAgeHours: number | null;
  /** The encoder the plan was made for is not to be had here; null when it is, or any does. */
  encoderGone: 'CPU' | 'GPU' | null;
  /** What this computer was measured to do with the plan; null when it was not measured. */
  computer: Carried | null;
  planWarnings: readonly { level: 'stop' | 'warn'; text: string }[];
  relayGone: boolean;
  fps: number;
  plannedFps: number;
  clockSlips: number;
  /** The scene after the one on air, and what of it has no picture yet; null when there is none. */
  next: { name: string; missing: readonly string[] } | null;
  /** Inputs that capture a whole screen. */
  capturesStudio: readonly string[];
}

/** A key older than this was made for another evening. */
const FRESH_HOURS = 12;
const OLD_TEST_HOURS = 24;
const DISK_SPARE = 1.1;

/** All checks in the order of the signal's way. */
export function preflight(facts: PreflightFacts): Check[] {
  return [
    ...inputChecks(facts.inputs),
    nextCheck(facts),
    ...voiceChecks(facts),
    programmeCheck(facts),
    ...destinationChecks(facts.destinations),
    planCheck(facts),
    lineCheck(facts),
    machineCheck(facts),
    computerCheck(facts),
    diskCheck(facts),
    secretsCheck(facts),
  ];
}

/** How many must be mended before viewers get what they should. */
export function toMend(checks: readonly Check[]): number {
  return checks.filter((c) => c.state === 'stop').length;
}

function fine(id: string, name: string, text: string): Check {
  return { id, name, state: 'fine', text, fix: null };
}

function inputChecks(inputs: readonly PreflightInput[]): Check[] {
  const checks = inputs
    .filter((i) => i.onAir || i.state === 'failed')
    .map((i): Check => {
      const fix = { fix: 'openStage', recordId: i.id, label: 'Open' } as const;
      const base = { id: `input:${i.id}`, name: i.name };
      if (i.state === 'failed') return { ...base, state: 'stop', text: i.message || 'No signal', fix };
      if (i.state === 'waiting')
        return { ...base, state: 'warn', text: i.message || 'Waiting for signal', fix };
      if (i.look === 'black')
        return { ...base, state: 'stop', text: 'black: viewers see nothing of it', fix };
      if (i.live && i.look === 'still')
        return { ...base, state: 'warn', text: 'has not moved for a while: it may hang', fix };
      return fine(
        base.id,
        i.name,
        i.look === 'moving' ? 'moving' : i.state === 'asleep' ? 'opens when it is shown' : 'there',
      );
    });
  const slow = inputs.filter((i) => i.heavy && !i.keepReady && !i.onAir);
  for (const i of slow)
    checks.push({
      id: `heavy:${i.id}`,
      name: i.name,
      state: 'warn',
      text: 'is opened when it is first shown: it may come late',
      fix: { fix: 'keepReady', recordId: i.id, label: 'Keep ready' },
    });
  return checks;
}

function nextCheck({ next }: PreflightFacts): Check {
  const base = { id: 'next', name: 'Next scene' };
  const open = { fix: 'openStage', recordId: null, label: 'Open' } as const;
  if (next === null)
    return { ...base, state: 'warn', text: 'none: the one on air is the last in the list', fix: open };
  if (next.missing.length > 0)
    return {
      ...base,
      state: 'warn',
      text: `${next.name}, but ${LIST.format(next.missing)} ${next.missing.length > 1 ? 'have' : 'has'} no picture yet`,
      fix: open,
    };
  return fine(base.id, base.name, `${next.name}, ready`);
}

function voiceChecks({ voices, soundRunning }: PreflightFacts): Check[] {
  if (!soundRunning)
    return [
      {
        id: 'sound',
        name: 'Sound',
        state: 'stop',
        text: 'has not been started: the browser waits for a click',
        fix: { fix: 'startSound', recordId: null, label: 'Start sound' },
      },
    ];
  if (voices.length === 0)
    return [
      {
        id: 'sound',
        name: 'Voice',
        state: 'warn',
        text: 'there is no voice channel: viewers hear no host',
        fix: { fix: 'openSound', recordId: null, label: 'Open Sound' },
      },
    ];
  const allMuted = voices.every((v) => v.muted);
  return voices.map((v, i): Check => {
    const base = { id: `voice:${v.id}`, name: v.name };
    const open = { fix: 'openSound', recordId: v.id, label: 'Open Sound' } as const;
    if (v.problem) return { ...base, state: 'stop', text: v.problem, fix: open };
    if (v.muted)
      return {
        ...base,
        // The first voice is the host's; a muted guest or call may be meant.
        state: i === 0 || allMuted ? 'stop' : 'warn',
        text: 'is muted: nobody hears it',
        fix: { fix: 'unmute', recordId: v.id, label: 'Unmute' },
      };
    if (v.peakDb === null) return { ...base, state: 'warn', text: 'silent so far: say something', fix: open };
    if (v.clips > 0)
      return { ...base, state: 'warn', text: 'has clipped: turn it down or it will crackle', fix: open };
    return fine(base.id, v.name, `present, peaks ${withMinus(v.peakDb.toFixed(0))} dB`);
  });
}

function programmeCheck({ lufs, targetLufs, echo, soundRunning }: PreflightFacts): Check {
  const base = { id: 'programme', name: 'Programme' };
  const open = { fix: 'openSound', recordId: null, label: 'Open Sound' } as const;
  if (echo)
    return {
      ...base,
      state: 'stop',
      text: echo,
      fix: { fix: 'fixEcho', recordId: null, label: 'Open Sound' },
    };
  if (!soundRunning || lufs === null)
    return { ...base, state: 'unknown', text: 'nothing to hear yet', fix: null };
  const off = lufs - targetLufs;
  const reading = `${withMinus(lufs.toFixed(1))} LUFS`;
  if (off > 4) return { ...base, state: 'warn', text: `${reading}: platforms will turn it down`, fix: open };
  if (off < -8)
    return { ...base, state: 'warn', text: `${reading}: quiet beside other broadcasts`, fix: open };
  return fine(base.id, base.name, `${reading}, no echo`);
}

function destinationChecks(destinations: readonly PreflightDestination[]): Check[] {
  if (destinations.length === 0)
    return [
      {
        id: 'destinations',
        name: 'Destinations',
        state: 'warn',
        text: 'none is switched on: it would only be recorded',
        fix: { fix: 'openDestination', recordId: null, label: 'Choose' },
      },
    ];
  return destinations.map((d): Check => {
    const base = { id: `destination:${d.id}`, name: d.name };
    const key = { fix: 'enterKey', recordId: d.id } as const;
    if (!d.hasKey)
      return {
        ...base,
        state: 'stop',
        text: d.keyLost
          ? 'The stored stream key cannot be opened any more. Enter it again.'
          : 'No stream key',
        fix: { ...key, label: 'Enter key' },
      };
    if (d.sameKeyAs !== null)
      return {
        ...base,
        state: 'stop',
        text: `Same stream key as ${d.sameKeyAs}. Enter the correct one.`,
        fix: { ...key, label: 'New key' },
      };
    if (d.freshKey && (d.keyUsed || (d.keyAgeHours ?? 0) > FRESH_HOURS))
      return {
        ...base,
        state: 'stop',
        text: d.keyUsed
          ? 'its key was used for another broadcast: it wants a new one'
          : 'its key is from yesterday: it wants a new one',
        fix: { ...key, label: 'New key' },
      };
    if (d.encode === null)
      return {
        ...base,
        state: 'stop',
        text: 'the plan makes no picture for it: give its frame a size',
        fix: { fix: 'proposePlan', recordId: null, label: 'Propose plan' },
      };
    if (d.noServerEncoder)
      return {
        ...base,
        state: 'warn',
        text: 'is to be encoded on the server, which has no ffmpeg with x264: it would get what the desk makes',
        fix: { fix: 'openDestination', recordId: d.id, label: 'Change' },
      };
    if (d.needsTitle)
      return {
        ...base,
        state: 'warn',
        text: 'has no title: viewers do not see what it is',
        fix: { fix: 'openDestination', recordId: d.id, label: 'Write it' },
      };
    return fine(base.id, d.name, 'key stored, ready');
  });
}

function planCheck({ planWarnings, uploadKbps, lineKbps, headroom, encoderGone }: PreflightFacts): Check {
  const stop = planWarnings.find((w) => w.level === 'stop');
  // What viewers would suffer from comes first.
  if (!stop && encoderGone !== null)
    return {
      ...{ id: 'plan', name: 'Plan', state: 'warn', fix: null },
      text: `The ${encoderGone} encoder of this plan is not available here: another one is used. Compare encoders and choose again.`,
    };
  const worst = stop ?? planWarnings[0];
  if (worst)
    return {
      id: 'plan',
      name: 'Plan',
      state: worst.level,
      text: worst.text,
      fix: { fix: 'proposePlan', recordId: null, label: 'Propose plan' },
    };
  return fine(
    'plan',
    'Plan',
    lineKbps === null
      ? `${mbps(uploadKbps)} Mbps, keyframe every 2 s`
      : `${Math.round((uploadKbps / lineKbps) * 100)}% of the connection (at most ${Math.round((1 - headroom) * 100)})`,
  );
}

function lineCheck({ lineKbps, lineTestAgeHours, relayGone }: PreflightFacts): Check {
  const fix = { fix: 'measureLine', recordId: null, label: 'Measure' } as const;
  if (relayGone)
    return {
      id: 'line',
      name: 'Connection',
      state: 'stop',
      text: 'no answer from the relay: it is being restarted',
      fix: null,
    };
  if (lineKbps === null)
    return {
      id: 'line',
      name: 'Connection',
      state: 'unknown',
      text: 'was never measured: the plan is a guess',
      fix,
    };
  if (lineTestAgeHours === null || lineTestAgeHours > OLD_TEST_HOURS)
    return {
      id: 'line',
      name: 'Connection',
      state: 'warn',
      text: `${mbps(lineKbps)} Mbps, measured long ago`,
      fix,
    };
  return fine('line', 'Connection', `${mbps(lineKbps)} Mbps, measured today`);
}

function machineCheck({ fps, plannedFps, clockSlips }: PreflightFacts): Check {
  const base = { id: 'machine', name: 'Rendering' };
  if (fps < plannedFps * 0.9)
    return {
      ...base,
      state: 'warn',
      text: `renders ${fps} of ${plannedFps} fps: choose a smaller size`,
      fix: { fix: 'proposePlan', recordId: null, label: 'Propose plan' },
    };
  if (clockSlips > 0)
    return {
      ...base,
      state: 'warn',
      text: `sound and picture clocks slipped ${clockSlips} times: close other programs`,
      fix: null,
    };
  return fine(base.id, base.name, `${fps} fps, clocks agree`);
}

/** What was measured of it, whether or not it renders in time now. */
function computerCheck({ computer }: PreflightFacts): Check {
  const base = { id: 'computer', name: 'This computer' };
  if (computer === null)
    return {
      ...base,
      state: 'unknown',
      text: 'what it carries was never measured',
      fix: { fix: 'measureComputer', recordId: null, label: 'Measure' },
    };
  const share = `${Math.round(computer.share * 100)}% of a core`;
  if (computer.verdict === 'no')
    return {
      ...base,
      state: 'warn',
      text: `the plan takes ${share}, more than this computer carries: frames would be dropped`,
      fix: { fix: 'proposePlan', recordId: null, label: 'Propose plan' },
    };
  return fine(
    base.id,
    base.name,
    computer.verdict === 'tight' ? `just carries the plan: ${share}` : `the plan takes ${share}`,
  );
}

function diskCheck({ freeBytes, recordKbps, plannedMinutes, folderProblem }: PreflightFacts): Check {
  const base = { id: 'disk', name: 'Disk' };
  if (folderProblem !== null && recordKbps > 0)
    return {
      ...base,
      state: 'warn',
      text: `${folderProblem}. Until then recordings go to the studio’s own folder`,
      fix: { fix: 'openKeeping', recordId: null, label: 'Choose' },
    };
  if (freeBytes === null)
    return { ...base, state: 'unknown', text: 'Free space unknown. Check the recording folder.', fix: null };
  const free = `${(freeBytes / 1e9).toFixed(0)} GB free`;
  if (recordKbps === 0) return fine(base.id, base.name, `${free}, nothing is recorded`);
  const hours = (freeBytes * 8) / 1000 / recordKbps / 3600;
  if (hours * 60 < plannedMinutes * DISK_SPARE)
    return {
      ...base,
      state: hours * 60 < plannedMinutes ? 'stop' : 'warn',
      text: `${free}: enough for ${Math.floor(hours * 60)} min, the evening is planned for ${plannedMinutes}`,
      fix: { fix: 'openVault', recordId: null, label: 'Free up space' },
    };
  return fine(base.id, base.name, `${free}: ${Math.floor(hours)} h at this rate`);
}

function secretsCheck({ capturesStudio }: PreflightFacts): Check {
  if (capturesStudio.length > 0)
    return {
      id: 'secrets',
      name: 'Secrets',
      state: 'warn',
      text: `${capturesStudio.join(' and ')} ${capturesStudio.length > 1 ? 'show' : 'shows'} the whole screen: keys stay hidden, but if the studio is on it, chat and notes are seen`,
      fix: { fix: 'openStage', recordId: null, label: 'Open' },
    };
  return fine('secrets', 'Secrets', 'none visible on shared screens');
}
