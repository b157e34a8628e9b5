import { readPairing } from '../../core/access/pairing';
import type { DoorsState } from '../../protocol/access';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { SettingRepository } from '../db/setting-repository';
import type { Log } from '../log';
import { DoorLine } from './door-line';
import type { VisitorParts } from './visitors';

const HOUSE = 'door.house';

export interface DoorsParts {
  /** The door that runs beside this studio; null where none was started. */
  here: { url: string; token: string } | null;
  settings: SettingRepository;
  secrets: SecretRepository;
  visitors: VisitorParts;
  log: Log;
  now: () => number;
}

/** The doors of this studio: the one on its own computer, and one elsewhere when the owner has paired it. */
export class Doors {
  readonly #here: DoorLine | null;
  #elsewhere: DoorLine | null = null;

  constructor(readonly parts: DoorsParts) {
    this.#here = parts.here && this.#line({ ...parts.here, fingerprint: null });
    this.#here?.setHouse(this.#house);
    const word = parts.secrets.get(subjects.door);
    if (word !== null) this.#elsewhere = this.#line(readPairing(word));
  }

  get #house(): boolean {
    return this.parts.settings.get(HOUSE) === 'open';
  }

  state(): DoorsState {
    const here = this.#here;
    const far = this.#elsewhere;
    const own = here?.addresses ?? [];
    const local = own.find(({ fingerprint }) => fingerprint === null)?.url ?? null;
    return {
      house: {
        open: this.#house,
        can: here?.canHouse ?? false,
        problem: here ? here.problem : 'No door runs beside this studio.',
        addresses: own.filter(({ fingerprint }) => fingerprint !== null),
      },
      elsewhere: far && {
        url: far.options.url,
        connected: far.connected,
        problem: far.problem,
        addresses: [...far.addresses],
      },
      // Programs on this computer find it here; others where the door has a name.
      hooks: far?.addresses[0]?.url ?? local,
      local,
    };
  }

  setHouse(open: boolean): void {
    this.parts.settings.set(HOUSE, open ? 'open' : null);
    this.#here?.setHouse(open);
  }

  /** @param word what the door printed @throws Fault `door.pairing` */
  pair(word: string): void {
    const pairing = readPairing(word);
    this.#elsewhere?.close();
    this.parts.secrets.set(subjects.door, word.trim(), this.parts.now());
    this.#elsewhere = this.#line(pairing);
  }

  unpair(): void {
    this.#elsewhere?.close();
    this.#elsewhere = null;
    this.parts.secrets.remove(subjects.door);
  }

  /** These may not be here any more. */
  sendOut(visitorIds: readonly string[]): void {
    for (const line of [this.#here, this.#elsewhere]) line?.visitors.sendOut(visitorIds);
  }

  close(): void {
    this.#here?.close();
    this.#elsewhere?.close();
  }

  #line(at: { url: string; token: string; fingerprint: string | null }): DoorLine {
    const { visitors, log } = this.parts;
    return new DoorLine({ ...at, visitors, log });
  }
}
