import { PollCount, type PollResult } from '../../core/audience/own-poll';
import type { AudienceEvent } from '../../core/audience/events';
import type { ProgrammeState } from '../../core/programme/programme-state';
import { findRecord, type ShowDocument } from '../../core/show/document';
import type { PollRecord } from '../../core/show/rundown-records';

/** Told at most so often: a storm of votes is one picture that moves. */
const TELL_MS = 300;

/** A platform’s clock may be off by so much, and a command is stamped for a picture that is yet to come. */
const CLOCKS_MS = 2000;

interface Running {
  poll: PollRecord;
  sinceMs: number;
  count: PollCount;
}

export interface PollParts {
  document: () => ShowDocument;
  /** What was written in the chat since a moment. */
  chatSince: (sinceMs: number) => Iterable<AudienceEvent>;
  tell: (poll: PollResult | null) => void;
  /** A poll is over: it becomes an event like any other. */
  ended: (result: PollResult, sinceMs: number) => void;
}

/**
 * Counts the votes of the show's own poll. Whether one runs is said by the programme; its votes are what was written since it
 * began, so that a server that is started anew counts on.
 */
export class PollCounter {
  #running: Running | null = null;
  #followed = false;
  #timer: NodeJS.Timeout | undefined;

  constructor(readonly parts: PollParts) {}

  /** The poll that runs, with its votes; null when none does. */
  get result(): PollResult | null {
    return this.#running && resultOf(this.#running, true);
  }

  /** The programme stands so now. */
  follow({ poll }: ProgrammeState): void {
    const open = poll && poll.endedMs === null ? poll : null;
    const running = this.#running;
    const anew = !this.#followed;
    this.#followed = true;
    if (running && (!open || open.sinceMs !== running.sinceMs)) {
      this.#running = null;
      this.parts.ended(resultOf(running, false), running.sinceMs);
      if (!open) this.#tellNow();
    }
    if (!open || this.#running) return;
    const record = findRecord(this.parts.document(), 'poll', open.pollId);
    if (!record) return;
    this.#running = { poll: record, sinceMs: open.sinceMs, count: new PollCount(record.answers) };
    // Nothing from before: who said “left” of something else a moment ago has not voted. Only a server that is started anew
    // cannot tell by the order in which things came, and leaves no vote out.
    for (const event of this.parts.chatSince(open.sinceMs - (anew ? CLOCKS_MS : 0))) this.#count(event);
    this.#tellNow();
  }

  said(events: readonly AudienceEvent[]): void {
    if (!this.#running) return;
    let changed = false;
    for (const event of events) changed = this.#count(event) || changed;
    if (changed) this.#timer ??= setTimeout(() => this.#tellNow(), TELL_MS);
  }

  close(): void {
    clearTimeout(this.#timer);
  }

  #count(event: AudienceEvent): boolean {
    return (
      event.type === 'chat' && (this.#running?.count.said(event.platform, event.viewer, event.text) ?? false)
    );
  }

  #tellNow(): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    this.parts.tell(this.result);
  }
}

const resultOf = ({ poll, count }: Running, open: boolean): PollResult => ({
  ...{ pollId: poll.id, title: poll.name, open },
  options: count.options(),
});
