/** What a call is refused with, for tests. Used by tests only. */
import { isFault } from './fault';

/** `code: message` of the fault it throws; another error in its own words; `fine` when it throws none. */
export function faultWords(make: () => unknown): string {
  try {
    make();
  } catch (error) {
    return isFault(error) ? `${error.code}: ${error.message}` : String(error);
  }
  return 'fine';
}
