import { fromGuestSchema } from '../../protocol/guest';
import type { Visitor } from '../access/access';
import type { GuestLine, Wings } from './wings';

/** What one guest may say in a second: finding a way through the network takes some dozens of words at once. */
const MOST_SAID = 100;
/** Each offer is a connection that the desk begins: so many in so long are somebody's bad network, more are a flood. */
const MOST_OFFERS = 8;
const OFFERS_MS = 10_000;

/** One guest's page: what it says is checked, and handed to the wings. */
export function guestConnection(
  wings: Wings,
  { id, seatId }: Pick<Visitor, 'id' | 'seatId'>,
  door: { say: (text: string) => void; shut: (why: string) => void },
): { said: (text: string) => void; left: () => void } {
  const line: GuestLine = {
    say: (message) => door.say(JSON.stringify(message)),
    shut: (why) => door.shut(why),
  };
  wings.opened(line, id, seatId);
  let second = 0;
  let said = 0;
  let offers: number[] = [];
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
      if (value.type === 'signal' && value.signal.type === 'offer') {
        const nowMs = Date.now();
        offers = [...offers.filter((atMs) => nowMs - atMs < OFFERS_MS), nowMs];
        if (offers.length > MOST_OFFERS) return door.shut('too many connections: wait a while');
      }
      wings.said(id, value, seatId);
    },
    left: () => wings.left(id, line),
  };
}
