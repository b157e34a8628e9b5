import type { ServerResponse } from 'node:http';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { ChannelRecord, ComputerSoundSource } from '../../core/show/records';
import { inputPart, type InputStreamStatus } from '../../protocol/input-stream';
import { Outlets } from '../inputs/outlets';
import { SoundCapture } from './computer-sound';

/** Nobody listens any more: it is recorded on for so long, since pages are reloaded. */
const LINGER_MS = 3000;
/** A line that says nothing for two of these is dead, for the page at its end. */
const HEARTBEAT_MS = 1000;

interface Sounding {
  outlets: Outlets;
  capture: SoundCapture | null;
  source: string;
  status: InputStreamStatus;
  timer: NodeJS.Timeout | null;
}

/** The sound of this computer, to each page that has a channel for it. */
export class SoundOutlets {
  readonly #sounding = new Map<string, Sounding>();
  readonly #beat: NodeJS.Timeout;

  constructor(
    /** Shows that are open. */
    readonly shows: { all(): { document: ShowDocument }[] },
  ) {
    this.#beat = setInterval(() => {
      for (const { outlets, status } of this.#sounding.values())
        if (outlets.count > 0) outlets.send(inputPart({ kind: 'status', status }));
    }, HEARTBEAT_MS);
    this.#beat.unref();
  }

  /** Sends a channel's sound until the other side goes. @returns whether it is such a channel */
  attach(channelId: string, response: ServerResponse): boolean {
    if (!this.#sourceOf(channelId)) return false;
    let sounding = this.#sounding.get(channelId);
    if (!sounding) {
      const made: Sounding = {
        outlets: new Outlets(
          () => [inputPart({ kind: 'status', status: made.status })],
          () => this.#mind(channelId),
        ),
        capture: null,
        source: '',
        status: { state: 'waiting', message: '', blocked: [] },
        timer: null,
      };
      this.#sounding.set(channelId, (sounding = made));
    }
    sounding.outlets.add(response);
    return true;
  }

  /** The show was edited: a channel may take its sound from elsewhere now. */
  edited(): void {
    for (const id of this.#sounding.keys()) this.#mind(id);
  }

  close(): void {
    clearInterval(this.#beat);
    for (const { outlets, capture } of this.#sounding.values()) {
      outlets.close();
      capture?.close();
    }
  }

  #sourceOf(channelId: string): ComputerSoundSource | null {
    for (const { document } of this.shows.all()) {
      const found: ChannelRecord | undefined = recordsOf(document, 'channel').find(
        ({ id }) => id === channelId,
      );
      if (found) return found.source.type === 'computer' ? found.source : null;
    }
    return null;
  }

  /** Begins, renews or ends the recording. */
  #mind(channelId: string): void {
    const sounding = this.#sounding.get(channelId);
    if (!sounding) return;
    const source = this.#sourceOf(channelId);
    const words = JSON.stringify(source);
    if (sounding.source !== words) {
      sounding.capture?.close();
      sounding.capture = null;
      sounding.source = words;
    }
    if (source && sounding.outlets.count > 0) {
      if (sounding.timer) clearTimeout(sounding.timer);
      sounding.timer = null;
      sounding.capture ??= new SoundCapture(source, {
        onSound: (body) => sounding.outlets.send(inputPart({ kind: 'audio', timestampMs: 0, body })),
        onState: (message) => this.#say(sounding, message),
      });
    } else if (sounding.capture && !sounding.timer)
      sounding.timer = setTimeout(() => {
        sounding.timer = null;
        if (sounding.outlets.count > 0) return;
        sounding.capture?.close();
        sounding.capture = null;
      }, LINGER_MS);
  }

  #say(sounding: Sounding, message: string): void {
    const state = message === '' ? 'running' : 'waiting';
    if (sounding.status.state === state && sounding.status.message === message) return;
    sounding.status = { state, message, blocked: [] };
    sounding.outlets.send(inputPart({ kind: 'status', status: sounding.status }));
  }
}
