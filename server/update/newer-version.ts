/**
 * Whether there is a newer version, as an address says that the owner gave. It is asked once a day, told on Home, and never
 * installed: whoever is about to broadcast must not have another program under their hands.
 */
import Joi from 'joi';
import semver from 'semver';
import { messageOf } from '../../core/fault';
import type { Log } from '../log';

const DAY_MS = 86_400_000;
/** After the start there is more important work. */
const FIRST_MS = 30_000;
const TIMEOUT_MS = 10_000;
const MAX_ANSWER_BYTES = 256 * 1024;
/** So long before a planned show, and after its time, nothing is said. */
const QUIET_BEFORE_MS = 12 * 3_600_000;
const QUIET_AFTER_MS = 6 * 3_600_000;

export interface NewerVersion {
  version: string;
  /** Where it says what is new; null when nobody said. */
  about: string | null;
}

/** As package registries answer for the latest version of a package; `homepage` says what is new. */
const answerSchema = Joi.object<{ version: string; homepage?: string }>({
  version: Joi.string().max(100).required(),
  homepage: Joi.string()
    .uri({ scheme: ['https'] })
    .max(500),
}).unknown(true);

export interface NewerHooks {
  /** Ours, as in package.json. */
  version: string;
  /** Null: nobody is asked. */
  address: string | null;
  /** When shows are planned, and whether one is on air: then nothing is said. */
  planned: () => readonly number[];
  onAir: () => boolean;
  now: () => number;
  log: Log;
}

export class NewerVersions {
  #found: NewerVersion | null = null;
  #timer: NodeJS.Timeout | null = null;

  constructor(readonly hooks: NewerHooks) {
    if (hooks.address === null) return;
    this.#timer = setTimeout(() => void this.look(), FIRST_MS).unref();
  }

  /** What is to be said now; null for nothing. */
  get told(): NewerVersion | null {
    const { planned, onAir, now } = this.hooks;
    if (!this.#found || onAir()) return null;
    const at = now();
    const near = planned().some((ms) => at > ms - QUIET_BEFORE_MS && at < ms + QUIET_AFTER_MS);
    return near ? null : this.#found;
  }

  /** Asks now, and again in a day. One that does not answer is asked again then; it is no business of a show. */
  async look(): Promise<void> {
    const { address, version, log } = this.hooks;
    if (address === null) return;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.look(), DAY_MS).unref();
    try {
      const answer = await asked(address);
      this.#found = semver.gt(answer.version, version)
        ? { version: answer.version, about: answer.homepage ?? null }
        : null;
    } catch (error) {
      log.info({ error: messageOf(error) }, 'it could not be asked whether there is a newer version');
    }
  }

  close(): void {
    if (this.#timer) clearTimeout(this.#timer);
  }
}

/** @throws Error in words */
async function asked(address: string): Promise<{ version: string; homepage?: string }> {
  const response = await fetch(address, {
    headers: { accept: 'application/json' },
    signal: AbortSignal.timeout(TIMEOUT_MS),
  });
  if (!response.ok) throw new Error(`it answers with status ${response.status}`);
  const pieces: Uint8Array[] = [];
  let bytes = 0;
  for await (const piece of (response.body ?? []) as AsyncIterable<Uint8Array>) {
    bytes += piece.length;
    if (bytes > MAX_ANSWER_BYTES) throw new Error('it answers with more than a version');
    pieces.push(piece);
  }
  const { error, value } = answerSchema.validate(JSON.parse(Buffer.concat(pieces).toString('utf8')));
  if (error) throw new Error(`its answer is of another kind: ${error.message}`);
  const { version } = value as { version: string };
  if (semver.valid(version) === null) throw new Error('its answer has no version');
  return value as { version: string; homepage?: string };
}
