import { createHmac } from 'node:crypto';
import { Fault } from '../../core/fault';
import { NO_ICE, readAddresses, type IceSettings } from '../../core/guests/ice';
import type { IceServer } from '../../protocol/guest';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { SettingRepository } from '../db/setting-repository';

const SETTING = 'guests.ice';
/** A name made for a relay is good for an evening. */
const GOOD_SECONDS = 12 * 3600;

export interface IceFacts extends IceSettings {
  /** A secret for the relay is kept. */
  secret: boolean;
}

/** By which servers guests' connections find their way: set on this computer, for all its shows. */
export class Ice {
  constructor(
    readonly parts: {
      settings: Pick<SettingRepository, 'get' | 'set'>;
      secrets: Pick<SecretRepository, 'get' | 'set' | 'remove'>;
      now: () => number;
    },
  ) {}

  facts(): IceFacts {
    return { ...this.#settings(), secret: this.parts.secrets.get(subjects.turn) !== null };
  }

  /**
   * @param secret of the relay; empty keeps the one there is
   * @throws Fault `ice.address`, `ice.secret`
   */
  set({ stun, turn, user, secret }: { stun: string; turn: string; user: string; secret: string }): void {
    const { settings, secrets, now } = this.parts;
    let read: IceSettings;
    try {
      read = { stun: readAddresses(stun, 'stun'), turn: readAddresses(turn, 'turn'), user: user.trim() };
    } catch (error) {
      throw new Fault('ice.address', (error as Error).message);
    }
    if (read.turn.length === 0) secrets.remove(subjects.turn);
    else if (secret !== '') secrets.set(subjects.turn, secret, now());
    else if (secrets.get(subjects.turn) === null)
      throw new Fault('ice.secret', 'A TURN server wants a password, or the secret that it shares with you.');
    settings.set(SETTING, JSON.stringify(read));
  }

  /** For a connection that begins now. */
  servers(): IceServer[] {
    const { stun, turn, user } = this.#settings();
    const secret = this.parts.secrets.get(subjects.turn);
    return [
      ...(stun.length > 0 ? [{ urls: stun }] : []),
      ...(turn.length > 0 && secret !== null ? [{ urls: turn, ...this.#login(user, secret) }] : []),
    ];
  }

  /**
   * Without a name of one's own it is made from the shared secret, with the time at which it ends, so that guests get
   * nothing that lasts ("A REST API For Access To TURN Services", draft-uberti-behave-turn-rest-00 §2.2).
   */
  #login(user: string, secret: string): { username: string; credential: string } {
    if (user !== '') return { username: user, credential: secret };
    const username = String(Math.floor(this.parts.now() / 1000) + GOOD_SECONDS);
    return { username, credential: createHmac('sha1', secret).update(username).digest('base64') };
  }

  #settings(): IceSettings {
    const kept = this.parts.settings.get(SETTING);
    return kept === null ? NO_ICE : (JSON.parse(kept) as IceSettings);
  }
}
