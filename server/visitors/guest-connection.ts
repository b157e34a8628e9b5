import { fromGuestSchema } from '../../protocol/guest';
import type { Visitor } from '../access/access';
import type { GuestLine, Wings } from './wings';

/** What one guest may say in a second: finding a way through the network takes some dozens of words at once. */
const MOST_SAID = 100;

/** One guest's page: what it says is checked, and handed to the wings. */
export function guestConnection(
  wings: Wings,
  { id, seatId }: Visitor,
  door: { say: (text: string) => void; shut: (why: string) => void },
): { said: (text: string) => void; left: () => void } {
  const line: GuestLine = {
    say: (message) => door.say(JSON.stringify(message)),
    replaced: () => door.shut('replaced'),
  };
  wings.opened(line, id, seatId);
  let second = 0;
  let said = 0;
  return {
    said: (text) => {
      const now = Math.floor(Date.now() / 1000);
      said = now === second ? said + 1 : 1;
      second = now;
      if (said > MOST_SAID) return door.shut('too many messages: wait a second');
      let parsed: unknown = null;
      try {
        parsed = JSON.parse(text);
      } catch {
        // It is answered below like everything else that is not understood.
      }
      const { error, value } = fromGuestSchema.validate(parsed, { convert: false });
      if (error)
        return line.say({ type: 'refused', message: 'Your page is of another version: load it again.' });
      wings.said(id, value, seatId);
    },
    left: () => wings.left(id, line),
  };
}
