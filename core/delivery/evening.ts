/** What happened in a broadcast, and reports made from it. */
import type { AccountState } from './evening-account';

/** One figure every few seconds, from the desk and the relay. */
export interface EveningSample {
  kind: 'sample';
  fps: number;
  /** Since the beginning, over all runs of the desk: pictures that were due, and those lost, by cause. */
  due: number;
  skipped: number;
  leftOut: number;
  lineDropped: number;
  /** While no desk was there; reports of earlier versions do not have it. */
  away?: number;
  /** What is gone on with when the server is started anew. */
  account?: AccountState;
  kbps: number;
  lufs: number | null;
  integratedLufs: number | null;
  /** Chat messages and other events so far. */
  chat: number;
  events: number;
  destinations: { name: string; kbps: number; dropped: number; lagMs: number; state: string }[];
}

export type EveningMoment =
  | { kind: 'begin'; title: string }
  | { kind: 'end' }
  | { kind: 'scene'; name: string }
  | { kind: 'segment'; name: string; plannedSeconds: number }
  | { kind: 'marker'; words: string }
  | { kind: 'destination'; name: string; state: string; message: string }
  | { kind: 'session'; state: string; message: string }
  | { kind: 'line'; cause: string; share: number }
  | { kind: 'clip'; file: string; seconds: number }
  | { kind: 'recording'; message: string }
  | { kind: 'announced'; message: string }
  | { kind: 'plan'; message: string }
  /** Pictures a second that are wanted, and that were planned. */
  /** `scale`: how large it was drawn; not kept by earlier versions. */
  | { kind: 'pace'; fps: number; planned: number; scale?: number }
  | EveningSample;

export interface TimedMoment {
  /** Milliseconds since 1970. */
  atMs: number;
  moment: EveningMoment;
}

export interface EveningSummary {
  seconds: number;
  /** Pictures due, and lost by cause. */
  due: number;
  lost: { machine: number; encoder: number; line: number; away: number };
  integratedLufs: number | null;
  chat: number;
  events: number;
  destinations: { name: string; meanKbps: number; dropped: number; breaks: number }[];
  markers: number;
  clips: number;
  /** Times viewers saw the cover. */
  covers: number;
}

const samplesOf = (moments: readonly TimedMoment[]) =>
  moments.flatMap(({ atMs, moment }) => (moment.kind === 'sample' ? [{ atMs, ...moment }] : []));

/** The figures of an evening. @param moments in order */
export function summarise(moments: readonly TimedMoment[]): EveningSummary {
  const samples = samplesOf(moments);
  const last = samples.at(-1);
  const begin = moments[0]?.atMs ?? 0;
  const names = [...new Set(samples.flatMap((s) => s.destinations.map((d) => d.name)))];
  const count = (test: (moment: EveningMoment) => boolean) =>
    moments.filter(({ moment }) => test(moment)).length;
  return {
    seconds: moments.length === 0 ? 0 : (moments[moments.length - 1].atMs - begin) / 1000,
    due: last?.due ?? 0,
    lost: {
      machine: last?.skipped ?? 0,
      encoder: last?.leftOut ?? 0,
      line: last?.lineDropped ?? 0,
      away: last?.away ?? 0,
    },
    integratedLufs: last?.integratedLufs ?? null,
    chat: last?.chat ?? 0,
    events: last?.events ?? 0,
    destinations: names.map((name) => {
      const own = samples.flatMap((s) => s.destinations.filter((d) => d.name === name));
      const live = own.filter((d) => d.kbps > 0);
      return {
        name,
        meanKbps: live.length === 0 ? 0 : Math.round(live.reduce((sum, d) => sum + d.kbps, 0) / live.length),
        dropped: own.at(-1)?.dropped ?? 0,
        breaks: count((m) => m.kind === 'destination' && m.name === name && m.state === 'unreachable'),
      };
    }),
    markers: count((m) => m.kind === 'marker'),
    clips: count((m) => m.kind === 'clip'),
    covers: count((m) => m.kind === 'session' && m.state === 'covered'),
  };
}

/** One moment in words, for people. */
export function momentWords(moment: EveningMoment): string {
  switch (moment.kind) {
    case 'begin':
      return `Broadcast began${moment.title ? `: ${moment.title}` : ''}`;
    case 'end':
      return 'Broadcast ended';
    case 'scene':
      return `Scene ${moment.name}`;
    case 'segment':
      return `Segment ${moment.name}`;
    case 'marker':
      return `Marker${moment.words ? `: ${moment.words}` : ''}`;
    case 'destination':
      return `${moment.name} ${moment.state === 'live' ? 'is live' : moment.message || moment.state}`;
    case 'session':
      return moment.message || (moment.state === 'live' ? 'The desk is back' : moment.state);
    case 'line':
      return moment.cause === 'none'
        ? 'The connection carries everything again'
        : `${moment.cause === 'line' ? 'The connection is slow' : 'One destination is slow'}: ${Math.round(moment.share * 100)}% of the planned rate`;
    case 'pace':
      return moment.fps < moment.planned || (moment.scale ?? 1) < 1
        ? `Computer overloaded: ${Math.round(moment.fps)} of ${Math.round(moment.planned)} fps${(moment.scale ?? 1) < 1 ? `, drawn at ${Math.round(moment.scale! * 100)}% of its size` : ''}`
        : `Back at ${Math.round(moment.planned)} fps`;
    case 'clip':
      return `Kept ${moment.file}`;
    case 'recording':
      return moment.message;
    case 'announced':
    case 'plan':
      return moment.message;
    case 'sample':
      return `${moment.fps} fps, ${moment.kbps} kbps`;
  }
}

const field = (value: string | number | null) => {
  const text = value === null ? '' : String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};

/** A table of the figures over time (RFC 4180): one line for each sample, columns for each destination. */
export function eveningCsv(moments: readonly TimedMoment[]): string {
  const samples = samplesOf(moments);
  const begin = moments[0]?.atMs ?? 0;
  const names = [...new Set(samples.flatMap((s) => s.destinations.map((d) => d.name)))];
  const head = [
    'seconds',
    'fps',
    'due',
    'skipped',
    'left out',
    'line dropped',
    'desk gone',
    'kbps',
    'LUFS momentary',
    'chat',
    'events',
  ];
  const rows = [
    [...head, ...names.flatMap((name) => [`${name} kbps`, `${name} dropped`, `${name} lag ms`])],
    ...samples.map((s) => [
      ((s.atMs - begin) / 1000).toFixed(1),
      ...[s.fps, s.due, s.skipped, s.leftOut, s.lineDropped, s.away ?? null],
      ...[s.kbps, s.lufs, s.chat, s.events],
      ...names.flatMap((name) => {
        const d = s.destinations.find((one) => one.name === name);
        return d ? [d.kbps, d.dropped, d.lagMs] : [null, null, null];
      }),
    ]),
  ];
  return rows.map((row) => row.map(field).join(',')).join('\r\n') + '\r\n';
}

/** Everything, one JSON object a line. */
export function eveningJsonLines(moments: readonly TimedMoment[]): string {
  const begin = moments[0]?.atMs ?? 0;
  return moments
    .map(({ atMs, moment }) =>
      JSON.stringify({
        at: new Date(atMs).toISOString(),
        seconds: (atMs - begin) / 1000,
        ...moment,
        // How it is added up is nobody's but the server's.
        account: undefined,
      }),
    )
    .map((line) => `${line}\n`)
    .join('');
}

/** A segment as it was: when it came on, seconds from the beginning, and how long it took. */
export interface PastSegment {
  name: string;
  fromSeconds: number;
  plannedSeconds: number;
  seconds: number;
}

/** Segments of an evening in the order in which they were on, planned against actual; the same one twice is two. */
export function pastSegments(moments: readonly TimedMoment[]): PastSegment[] {
  const begin = moments[0]?.atMs ?? 0;
  const end = moments.at(-1)?.atMs ?? begin;
  const on = moments.flatMap(({ atMs, moment }) => (moment.kind === 'segment' ? [{ atMs, moment }] : []));
  return on.map(({ atMs, moment }, i) => ({
    name: moment.name,
    fromSeconds: (atMs - begin) / 1000,
    plannedSeconds: moment.plannedSeconds,
    seconds: ((on[i + 1]?.atMs ?? end) - atMs) / 1000,
  }));
}

/** Chapters shorter than this are not worth one. */
const LEAST_CHAPTER_SECONDS = 10;

export interface Chapter {
  fromSeconds: number;
  toSeconds: number;
  title: string;
}

/**
 * Segments, or where no rundown ran scenes, and markers as chapters: whole, in order, without gaps; one that was on for a
 * moment joins the one before.
 */
export function chaptersOf(moments: readonly TimedMoment[]): Chapter[] {
  const begin = moments[0]?.atMs ?? 0;
  const end = ((moments.at(-1)?.atMs ?? begin) - begin) / 1000;
  const chapters: Chapter[] = [];
  const of = moments.some(({ moment }) => moment.kind === 'segment') ? 'segment' : 'scene';
  for (const { atMs, moment } of moments) {
    const seconds = (atMs - begin) / 1000;
    const title =
      moment.kind === 'scene' || moment.kind === 'segment'
        ? moment.kind === of
          ? moment.name
          : null
        : moment.kind === 'marker'
          ? moment.words || 'Marker'
          : null;
    if (title === null) continue;
    const last = chapters.at(-1);
    if (last) {
      if (seconds - last.fromSeconds < LEAST_CHAPTER_SECONDS && moment.kind === of) {
        if (last.fromSeconds === 0 || chapters.length === 1) last.title = title;
        continue;
      }
      last.toSeconds = seconds;
      if (last.title === title) {
        last.toSeconds = end;
        continue;
      }
    }
    chapters.push({ fromSeconds: chapters.length === 0 ? 0 : seconds, toSeconds: end, title });
  }
  return chapters.filter((c) => c.toSeconds > c.fromSeconds);
}

function vttTime(seconds: number): string {
  const ms = Math.round(seconds * 1000);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(Math.floor(ms / 3_600_000))}:${two(Math.floor(ms / 60_000) % 60)}:${two(Math.floor(ms / 1000) % 60)}.${String(ms % 1000).padStart(3, '0')}`;
}

/** Chapters as WebVTT (W3C WebVTT §1.6, chapters). */
export function chaptersVtt(chapters: readonly Chapter[]): string {
  const cues = chapters.map(({ fromSeconds, toSeconds, title }, i) => {
    const words = title
      .replace(/-->/g, '→')
      .replace(/&/g, '&amp;')
      .replace(/</g, '&lt;')
      .replace(/\s+/g, ' ')
      .trim();
    return `${i + 1}\n${vttTime(fromSeconds)} --> ${vttTime(toSeconds)}\n${words}\n`;
  });
  return `WEBVTT\n\n${cues.join('\n')}`;
}
