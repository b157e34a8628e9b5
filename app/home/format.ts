const DAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
const OTHER_YEAR = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** A day; with its year when that is another one. */
export function dayOf(atMs: number, nowMs = Date.now()): string {
  const same = new Date(atMs).getFullYear() === new Date(nowMs).getFullYear();
  return (same ? DAY : OTHER_YEAR).format(atMs);
}

/** How long something went on, as `1:33:10`; until now when it is not over. */
export function lengthOf(fromMs: number, toMs: number | null, nowMs = Date.now()): string {
  const seconds = Math.max(0, Math.round(((toMs ?? nowMs) - fromMs) / 1000));
  const two = (n: number) => String(n).padStart(2, '0');
  return `${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
}

/** Of files: whole megabytes, or gigabytes. */
export const sizeOf = (bytes: number): string =>
  bytes >= 1e10
    ? `${Math.round(bytes / 1e9)} GB`
    : bytes >= 1e9
      ? `${(bytes / 1e9).toFixed(1)} GB`
      : `${bytes > 0 && bytes < 1e6 ? '<1' : Math.round(bytes / 1e6)} MB`;

const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** A day, with its year when that is another one, and the time. */
export const plannedOf = (atMs: number): string => `${dayOf(atMs)}, ${TIME.format(atMs)}`;

const MOMENT = new Intl.DateTimeFormat('en-GB', {
  ...{ day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit' },
});

/** A day with its year, and the time. */
export const momentOf = (atMs: number): string => MOMENT.format(atMs);
