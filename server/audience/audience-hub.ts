import { AudienceBook, emptyBook } from '../../core/audience/book';
import {
  concerns,
  type AudienceEvent,
  type ChatMessage,
  type Incoming,
  type Moderation,
} from '../../core/audience/events';
import { START_AUDIENCE, type AudienceSettings } from '../../core/audience/settings';
import type { GoalRecord } from '../../core/show/audience-records';
import type {
  AudienceFromServer,
  EntryMark,
  ReadOutOrder,
  ReadOutState,
  Rejection,
} from '../../protocol/audience-bus';
import { messageOf } from '../../core/fault';
import { withoutWaiting } from '../db/database';
import { isForNow } from '../db/late-writes';
import type { EntryRepository } from './entry-repository';

/** Events are gathered this long and go out together: a storm is some messages, not thousands. */
const GATHER_MS = 15;
/** And this long while so many come in a second: each message costs the server and the page more than what is in it. */
const FLOOD_GATHER_MS = 150;
const FLOOD_PER_SECOND = 40;
/** When the database could not take them they are kept, and it is tried again. */
const AGAIN_MS = 1000;
/** More than this are not kept waiting: what came first goes. */
const MAX_GATHERED = 50_000;
/** Chat a page gets at its beginning. */
const CHAT_AT_START = 200;
const MAX_REASONS = 100;
const MAX_READ_OUTS = 50;

export interface HubParts {
  entries: EntryRepository;
  say: (message: AudienceFromServer) => void;
  /** What the running show counts by. */
  counting: () => { goals: readonly GoalRecord[]; settings: AudienceSettings };
  now: () => number;
  /** Viewers of a platform. */
  onViewers: (platform: string, viewers: number) => void;
  /** Something was refused: the list of reasons is worth sending. */
  onRejection: () => void;
  /** The database did not take what came; it is kept and tried again. */
  onTrouble: (error: unknown) => void;
  /** One of them can never be kept; it is set aside, and the others go on. */
  onSetAside: (event: AudienceEvent, error: unknown) => void;
}

/** Where everything viewers do comes together: told apart, numbered, kept, counted, passed on. */
export class AudienceHub {
  #lastChat: { seq: number; messages: ChatMessage[] } = { seq: -1, messages: [] };
  #book: AudienceBook;
  #gathered: AudienceEvent[] = [];
  #timer: NodeJS.Timeout | null = null;
  /** Moderation that the database did not take yet. */
  #late: Moderation[] = [];
  /** Whether the database did not take the last write. */
  #locked = false;
  /** Events of the present second, with its number, and of the one before. */
  #second = { number: 0, count: 0, before: 0 };
  readonly #rejections = new Map<string, Rejection>();
  #readOut: ReadOutState = { shown: null, sinceMs: 0, queue: [], history: [] };

  constructor(readonly parts: HubParts) {
    this.#book = this.#count();
  }

  /** For a page that has just come. */
  greeting(): AudienceFromServer[] {
    this.flush();
    return [this.#bookMessage(), { type: 'readOut', readOut: this.#readOut }];
  }

  get rejections(): Rejection[] {
    return [...this.#rejections.values()].sort((a, b) => b.lastMs - a.lastMs);
  }

  take(incoming: Incoming): void {
    switch (incoming.type) {
      case 'viewers':
        this.parts.onViewers(incoming.platform, incoming.viewers);
        break;
      case 'removed':
      case 'silenced':
        // What it is about may still be waiting.
        this.flush();
        this.#moderate(incoming);
        break;
      default:
        this.#gathered.push(incoming);
        this.#gather(this.#floods() ? FLOOD_GATHER_MS : GATHER_MS);
    }
  }

  #gather(ms: number): void {
    this.#timer ??= setTimeout(() => this.flush(), ms);
  }

  /** Counts one more event. @returns whether there are many, in this second or the one before */
  #floods(): boolean {
    const number = Math.floor(this.parts.now() / 1000);
    const { number: last, count } = this.#second;
    if (number !== last) this.#second = { number, count: 0, before: number === last + 1 ? count : 0 };
    this.#second.count += 1;
    return Math.max(this.#second.count, this.#second.before) > FLOOD_PER_SECOND;
  }

  /** Takes in what was gathered, now. What the database does not take (locked, full) is kept and tried again. */
  flush(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    if (this.#gathered.length === 0 && this.#late.length === 0) return;
    const gathered = this.#gathered;
    let fresh: AudienceEvent[];
    try {
      fresh = this.#write(() => this.#enter(gathered));
    } catch (error) {
      const over = gathered.length - MAX_GATHERED;
      if (over > 0) {
        gathered.splice(0, over);
        this.reject('the database', 'it cannot be written, and more came than can be kept waiting');
      }
      return this.#again(error);
    }
    this.#gathered = [];
    const late = this.#late;
    this.#late = [];
    this.#pass(fresh);
    // What was to be removed may just have come.
    for (const moderation of late) this.#moderate(moderation);
  }

  /**
   * One that the database refuses for good must not hold up the others, nor come again for ever: then each goes by itself.
   * @throws what the database says when it takes nothing for now
   */
  #enter(gathered: readonly AudienceEvent[]): AudienceEvent[] {
    try {
      return this.parts.entries.add(gathered);
    } catch (error) {
      if (isForNow(error)) throw error;
    }
    const { entries, onSetAside } = this.parts;
    const aside: [AudienceEvent, unknown][] = [];
    // All or nothing when the database gives up in the middle: what was entered then would not count as new the next time.
    const fresh = entries.database.transaction(() =>
      gathered.flatMap((event) => {
        try {
          return entries.add([event]);
        } catch (error) {
          if (isForNow(error)) throw error;
          aside.push([event, error]);
          return [];
        }
      }),
    )();
    for (const [event, error] of aside) {
      this.reject(event.platform, `could not be kept: ${messageOf(error)}`);
      onSetAside(event, error);
    }
    return fresh;
  }

  /** The first try waits for another program; while that has the database, the server must not stand still with each. */
  #write<T>(write: () => T): T {
    const written = this.#locked ? withoutWaiting(this.parts.entries.database, write) : write();
    this.#locked = false;
    return written;
  }

  #again(error: unknown): void {
    this.#locked = true;
    this.parts.onTrouble(error);
    this.#gather(AGAIN_MS);
  }

  #pass(fresh: AudienceEvent[]): void {
    if (fresh.length === 0) return;
    const { goals, settings } = this.parts.counting();
    for (const event of fresh) this.#book.enter(event, goals, settings);
    this.parts.say({ type: 'audience', events: fresh });
  }

  reject(source: string, reason: string): void {
    const known = this.#rejections.get(`${source}/${reason}`);
    const lastMs = this.parts.now();
    if (known) Object.assign(known, { count: known.count + 1, lastMs });
    else {
      if (this.#rejections.size >= MAX_REASONS)
        this.#rejections.delete(this.#rejections.keys().next().value!);
      this.#rejections.set(`${source}/${reason}`, { source, reason: reason.slice(0, 300), count: 1, lastMs });
    }
    this.parts.onRejection();
  }

  /** Goals, money or the evening were changed: everything is counted again. */
  recount(): void {
    this.flush();
    this.#book = this.#count();
    this.parts.say(this.#bookMessage());
  }

  beginEvening(): void {
    this.parts.entries.beginEvening(this.parts.now());
    this.recount();
  }

  mark(seq: number, mark: EntryMark): void {
    this.parts.entries.mark(seq, mark);
    this.parts.say({ type: 'marked', seq, mark });
    const event = this.parts.entries.find(seq)?.event;
    if (mark === 'hidden' && event?.type === 'chat')
      this.#moderate({ type: 'removed', platform: event.platform, id: event.id, atMs: this.parts.now() });
  }

  read(seq: number): void {
    this.parts.entries.setReadSeq(seq);
  }

  readOut(order: ReadOutOrder, seq: number | null): void {
    this.flush();
    const event = seq === null ? null : this.parts.entries.find(seq)?.event;
    const message = event?.type === 'chat' ? event : null;
    const { shown, queue, history } = this.#readOut;
    const past = shown ? [shown, ...history].slice(0, MAX_READ_OUTS) : history;
    const put = (next: ChatMessage | null, rest: ChatMessage[], before: ChatMessage[]) => {
      this.#readOut = { shown: next, sinceMs: this.parts.now(), queue: rest, history: before };
      this.parts.say({ type: 'readOut', readOut: this.#readOut });
    };
    switch (order) {
      case 'show':
        if (message)
          put(
            message,
            queue.filter((m) => m.seq !== message.seq),
            past,
          );
        break;
      case 'queue':
        if (message && !queue.some((m) => m.seq === message.seq))
          put(shown, [...queue, message].slice(-MAX_READ_OUTS), history);
        break;
      case 'next':
        put(queue[0] ?? null, queue.slice(1), past);
        break;
      case 'previous':
        if (history[0]) put(history[0], shown ? [shown, ...queue] : queue, history.slice(1));
        break;
      case 'clear':
        put(null, queue, past);
        break;
    }
  }

  close(): void {
    this.flush();
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
  }

  #moderate(moderation: Moderation): void {
    try {
      this.#write(() => this.parts.entries.moderate(moderation));
    } catch (error) {
      if (isForNow(error)) {
        this.#late.push(moderation);
        this.#again(error);
      } else this.reject(moderation.platform, `what a moderator did could not be kept: ${messageOf(error)}`);
    }
    // It leaves the picture whatever the database does.
    this.parts.say({ type: 'moderation', moderation });
    const { shown, queue, history } = this.#readOut;
    const stays = (m: ChatMessage) => !concerns(moderation, m);
    if ([shown, ...queue, ...history].some((m) => m && !stays(m))) {
      this.#readOut = {
        ...this.#readOut,
        shown: shown && stays(shown) ? shown : null,
        queue: queue.filter(stays),
        history: history.filter(stays),
      };
      this.parts.say({ type: 'readOut', readOut: this.#readOut });
    }
  }

  #count(): AudienceBook {
    const { entries, counting, now } = this.parts;
    const sinceMs = entries.sinceMs(now());
    const { goals, settings } = counting();
    const book = new AudienceBook(emptyBook(sinceMs));
    // Both lists are in the order they came in; the book takes each number once, so they are merged by it.
    const chat = entries.chatSince(sinceMs);
    let said = chat.next();
    for (const event of entries.events()) {
      for (; !said.done && said.value.seq < event.seq; said = chat.next())
        book.enter(said.value, goals, settings);
      book.enter(event, goals, settings);
    }
    for (; !said.done; said = chat.next()) book.enter(said.value, goals, settings);
    return book;
  }

  /** What was said last; looked up again only when somebody said something. */
  lastChat(count: number): ChatMessage[] {
    const seq = this.parts.entries.lastSeq();
    if (this.#lastChat.seq !== seq) this.#lastChat = { seq, messages: this.parts.entries.newestChat(count) };
    return this.#lastChat.messages;
  }

  #bookMessage(): AudienceFromServer {
    return {
      type: 'book',
      book: this.#book.snapshot(),
      chat: this.parts.entries.newestChat(CHAT_AT_START),
      readSeq: this.parts.entries.readSeq(),
    };
  }
}

/** Of no show: nothing to count towards. */
export const NO_COUNTING = { goals: [], settings: START_AUDIENCE };
