/**
 * Switchback Freight, the made-up game: one freight train climbs a switchback, waits at a signal, goes on.
 * Everything is a function of time, so that picture, sound and a repeated run agree.
 */
import { hash01, smooth } from './random';

/** One climb, seconds. */
export const CLIMB_SECONDS = 48;
const HALT_FROM = 20;
const HALT_TO = 27;
/** Where on the track (0…1) the signal stands. */
export const SIGNAL_AT = 0.47;

export interface GameState {
  climb: number;
  /** Head of the train along the track, 0…1. */
  position: number;
  /** 0…1, for steam and sound. */
  effort: number;
  signal: 'stop' | 'go';
  /** Seconds since the signal last changed. */
  signalAge: number;
  delayMinutes: number;
  altitudeM: number;
  snowfall: number;
}

export function gameAt(seconds: number): GameState {
  const climb = Math.floor(seconds / CLIMB_SECONDS);
  const t = seconds - climb * CLIMB_SECONDS;
  let position: number;
  if (t < HALT_FROM) position = (SIGNAL_AT - 0.02) * easeOutOnly(t / HALT_FROM);
  else if (t < HALT_TO) position = SIGNAL_AT - 0.02;
  else
    position = SIGNAL_AT - 0.02 + (1.25 - SIGNAL_AT) * easeInOnly((t - HALT_TO) / (CLIMB_SECONDS - HALT_TO));
  const halted = t >= HALT_FROM && t < HALT_TO;
  const stop = t >= HALT_FROM - 9 && t < HALT_TO - 0.8;
  return {
    climb,
    position,
    effort: halted
      ? 0
      : t < HALT_FROM
        ? smooth(t / 3) * smooth((HALT_FROM - t) / 5)
        : smooth((t - HALT_TO) / 3),
    signal: stop ? 'stop' : 'go',
    signalAge: stop ? t - (HALT_FROM - 9) : t < HALT_FROM ? t : t - (HALT_TO - 0.8),
    delayMinutes: 3 + Math.floor(hash01(climb) * 4) + (t > HALT_TO ? 1 : 0),
    altitudeM: 1240 + Math.round(Math.min(1, Math.max(0, position)) * 410),
    snowfall: 0.35 + 0.3 * Math.sin(seconds / 19) ** 2,
  };
}

function easeOutOnly(u: number): number {
  return 1 - (1 - u) * (1 - u) * (1 - 0.15 * u);
}

function easeInOnly(u: number): number {
  return u * (0.35 + 0.65 * u);
}

/** The track as points in a 1920 × 1080 picture, from the valley on the left to the pass on the right. */
const TRACK: readonly (readonly [number, number])[] = buildTrack();

function buildTrack(): (readonly [number, number])[] {
  const corners: [number, number][] = [
    [-60, 985],
    [300, 980],
    [820, 930],
    [1230, 860],
    [1330, 800],
    [1255, 752],
    [980, 722],
    [760, 690],
    [668, 640],
    [720, 596],
    [900, 585],
    [1250, 590],
    [1600, 586],
    [1990, 592],
  ];
  const points: [number, number][] = [];
  for (let i = 0; i < corners.length - 1; i++) {
    const p0 = corners[Math.max(0, i - 1)];
    const p1 = corners[i];
    const p2 = corners[i + 1];
    const p3 = corners[Math.min(corners.length - 1, i + 2)];
    for (let s = 0; s < 14; s++) {
      const t = s / 14;
      const at = (a: number, b: number, c: number, d: number) =>
        0.5 *
        (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
      points.push([at(p0[0], p1[0], p2[0], p3[0]), at(p0[1], p1[1], p2[1], p3[1])]);
    }
  }
  return points;
}

export function trackPoints(): readonly (readonly [number, number])[] {
  return TRACK;
}

const LENGTHS: readonly number[] = TRACK.reduce<number[]>((sums, point, i) => {
  const before = TRACK[i - 1];
  sums.push(before ? sums[i - 1] + Math.hypot(point[0] - before[0], point[1] - before[1]) : 0);
  return sums;
}, []);
export const TRACK_LENGTH_PX = LENGTHS[LENGTHS.length - 1];

/** Point and heading at a part (0…1) of the track; beyond the ends the last straight goes on. */
export function trackAt(part: number): { x: number; y: number; angle: number } {
  const wanted = part * TRACK_LENGTH_PX;
  let low = 0;
  let high = TRACK.length - 2;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (LENGTHS[middle] <= wanted) low = middle;
    else high = middle - 1;
  }
  const [x1, y1] = TRACK[low];
  const [x2, y2] = TRACK[low + 1];
  const t = (wanted - LENGTHS[low]) / (LENGTHS[low + 1] - LENGTHS[low]);
  return { x: x1 + (x2 - x1) * t, y: y1 + (y2 - y1) * t, angle: Math.atan2(y2 - y1, x2 - x1) };
}
