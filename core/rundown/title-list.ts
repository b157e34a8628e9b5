/** A pasted list of names becomes titles of the bank. */
import type { TitleRecord } from '../show/rundown-records';

/** As many as a bank can be looked through. */
export const MOST_TITLES = 200;
const LEAST_SECONDS = 1;
const MOST_SECONDS = 3600;
const SECONDS = 8;
const NAME_LENGTH = 120;
const LINE_LENGTH = 200;

/**
 * One title a line: name, second line, seconds, with tabs or semicolons between, as a spreadsheet gives them. Empty lines are
 * passed over; what is too long is cut.
 * @param at where the first one stands in the bank
 */
export function readTitles(
  text: string,
  at: { showId: string; position: number },
  newId: () => string,
): { titles: TitleRecord[]; tooMany: boolean } {
  const rows = text
    .split(/\r?\n/)
    .map((line) => line.split(/[\t;]/).map((cell) => cell.trim()))
    .filter(([name]) => name !== '');
  const titles = rows.slice(0, MOST_TITLES).map(([name, line2 = '', typed = ''], i): TitleRecord => {
    const seconds = Number.parseFloat(typed.replace(',', '.'));
    return {
      ...{ kind: 'title', id: newId(), showId: at.showId, position: at.position + i },
      name: name.slice(0, NAME_LENGTH),
      line2: line2.slice(0, LINE_LENGTH),
      seconds: Number.isFinite(seconds) ? Math.min(MOST_SECONDS, Math.max(LEAST_SECONDS, seconds)) : SECONDS,
    };
  });
  return { titles, tooMany: rows.length > MOST_TITLES };
}
