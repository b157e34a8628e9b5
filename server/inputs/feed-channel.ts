import { isKeyPicture, isSequenceHeader, type FlvTag } from '../../core/media/flv-stream';
import { readFeedTag } from '../../core/media/feed-tags';
import { inputPart, type InputStreamStatus } from '../../protocol/input-stream';
import { Outlets } from './outlets';

/** A group of pictures that is kept for who comes later; an encoder without keyframes must not fill the memory. */
const MAX_KEPT_BYTES = 24 * 1024 * 1024;

/** One feed, whoever sends it: its tags go to every page that shows it, a late one gets the last group of pictures first. */
export class FeedChannel {
  readonly outlets = new Outlets(() => this.#greeting());
  #status: InputStreamStatus = { state: 'waiting', message: '', blocked: [] };
  #headers = new Map<'video' | 'audio', FlvTag>();
  #group: FlvTag[] = [];
  #groupBytes = 0;
  /** Said once for each codec. */
  readonly #foreign = new Set<string>();

  get status(): InputStreamStatus {
    return this.#status;
  }

  setStatus(state: InputStreamStatus['state'], message: string): void {
    if (this.#status.state === state && this.#status.message === message) return;
    this.#status = { state, message, blocked: [] };
    this.outlets.send(inputPart({ kind: 'status', status: this.#status }));
  }

  /** A new sender: what the one before left is of no use. */
  begin(): void {
    this.#headers.clear();
    this.#group = [];
    this.#groupBytes = 0;
    this.#foreign.clear();
    this.setStatus('running', '');
  }

  end(message: string): void {
    this.#group = [];
    this.#groupBytes = 0;
    this.setStatus('waiting', message);
  }

  push(tag: FlvTag): void {
    if (tag.kind === 'data') return;
    const read = readFeedTag(tag);
    if (read.type === 'nothing') return;
    if (read.type === 'foreign') {
      if (this.#foreign.has(read.kind)) return;
      this.#foreign.add(read.kind);
      this.setStatus(
        read.kind === 'video' ? 'failed' : 'running',
        read.kind === 'video'
          ? `its picture is ${read.codec}: set the sending side to H.264`
          : `without sound: it is ${read.codec}, set the sending side to AAC`,
      );
      return;
    }
    if (isSequenceHeader(tag)) this.#headers.set(tag.kind, tag);
    else {
      if (tag.kind === 'video' && isKeyPicture(tag.body)) {
        this.#group = [];
        this.#groupBytes = 0;
      }
      if (this.#groupBytes < MAX_KEPT_BYTES) {
        this.#group.push(tag);
        this.#groupBytes += tag.body.length;
      }
    }
    this.outlets.send(partOf(tag));
  }

  #greeting(): Uint8Array[] {
    // A group that was cut at its limit ends in a hole: who comes now waits for the next keyframe.
    const group = this.#groupBytes < MAX_KEPT_BYTES ? this.#group : [];
    return [
      inputPart({ kind: 'status', status: this.#status }),
      ...[...this.#headers.values(), ...group].map(partOf),
    ];
  }
}

function partOf({ kind, timestampMs, body }: FlvTag): Uint8Array {
  return inputPart({ kind: kind as 'video' | 'audio', timestampMs, body });
}
