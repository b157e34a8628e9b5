/** Countdowns and clocks as functions of time. */

export interface CountdownSettings {
  /** For a length, or to a time of the day. */
  to: 'length' | 'clock';
  seconds: number;
  /** `HH:MM`, in the time of the machine the studio runs on. */
  clock: string;
  /** Begins anew whenever its scene comes on air; else it runs from when it was first seen. */
  restart: boolean;
  /** Shown at zero. */
  endText: string;
  /** Brings on the next scene at zero. */
  thenNext: boolean;
}

const DAY_MS = 86_400_000;

/**
 * When it will be zero, milliseconds since 1970.
 * @param sinceMs when its scene came on air
 * @param zoneOffsetMinutes what `Date.getTimezoneOffset` gives: minutes from local time to UTC
 */
export function countdownEnd(
  settings: CountdownSettings,
  sinceMs: number,
  zoneOffsetMinutes: number,
): number {
  if (settings.to === 'length') return sinceMs + settings.seconds * 1000;
  const [hours, minutes] = settings.clock.split(':').map(Number);
  const offset = zoneOffsetMinutes * 60_000;
  const midnight = Math.floor((sinceMs - offset) / DAY_MS) * DAY_MS + offset;
  const today = midnight + (hours * 60 + minutes) * 60_000;
  // The next one after it came on: shown after the hour, it counts to tomorrow's.
  return today > sinceMs ? today : today + DAY_MS;
}

/** Whole seconds until zero, rounded up: 1 is shown through the last second; 0 from then on. */
export function secondsLeft(endMs: number, nowMs: number): number {
  return Math.max(0, Math.ceil((endMs - nowMs) / 1000));
}

/** `4:05`, `1:02:03`. */
export function durationText(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  const pad = (n: number) => String(n).padStart(2, '0');
  const [hours, minutes] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60];
  return hours > 0 ? `${hours}:${pad(minutes)}:${pad(whole % 60)}` : `${minutes}:${pad(whole % 60)}`;
}

/** Time of the day, `21:07` or `21:07:09`. */
export function clockText(nowMs: number, zoneOffsetMinutes: number, withSeconds: boolean): string {
  const local = Math.floor((nowMs - zoneOffsetMinutes * 60_000) / 1000);
  const pad = (n: number) => String(n).padStart(2, '0');
  const text = `${pad(Math.floor(local / 3600) % 24)}:${pad(Math.floor(local / 60) % 60)}`;
  return withSeconds ? `${text}:${pad(local % 60)}` : text;
}
