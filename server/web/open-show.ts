import { documentOf, type Edit, type ShowDocument } from '../../core/show/document';
import { Fault } from '../../core/fault';
import type { ProgrammeEntry } from '../../core/programme/commands';
import type { ProgrammeState } from '../../core/programme/programme-state';
import type { AnyRecord } from '../../core/show/records';
import { settle, type Change } from '../../core/show/settle';
import type { AudienceEvent } from '../../core/audience/events';
import type { PadEvent } from '../../protocol/pad';
import type { ForPads } from '../visitors/pad-connection';
import type { BusFromPage, BusFromServer } from '../../protocol/bus';
import { checkRecords } from '../../protocol/record-schemas';
import { Audience, type AudienceParts } from '../audience/audience';
import type { LateWrites } from '../db/late-writes';
import type { ShowRepository } from '../db/show-repository';
import { Wings, type WingsParts } from '../visitors/wings';
import { BusServer } from './bus-server';
import { Presses } from './presses';

export interface OpenShowParts extends Omit<AudienceParts, 'showId' | 'say' | 'document' | 'tellPoll'> {
  shows: ShowRepository;
  writes: Pick<LateWrites, 'do'>;
  /** The show was edited, after everything here knows. */
  edited: (show: OpenShow, change: Change) => void;
  /** Something was done to the programme at this show's desk. @param before how it stood until then */
  programmeChanged: (show: OpenShow, entry: ProgrammeEntry, before: ProgrammeState) => void;
  /** What guests are told of the studio, and how they are sent out. */
  guests: Pick<WingsParts, 'standing' | 'ice' | 'sendOut'>;
  /** What a page that has just come is told beside the show's own. */
  greet: (show: OpenShow) => BusFromServer[];
  /** No page has been here for a while. */
  left: (show: OpenShow) => void;
}

/** Events that a pad may still have to be told. */
const EVENTS_KEPT = 50;

/**
 * A show that somebody works on, and everything there is one of for each: its records, their order of edits, the bus to
 * its pages with the lease of its desk, and its audience.
 */
export class OpenShow {
  readonly bus: BusServer;
  readonly audience: Audience;
  #document: ShowDocument;
  #revision: number;
  #programme: ProgrammeState;
  /** What pads are told by the desk alone: levels by channel, and JPEGs by scene. */
  readonly forPads: ForPads = { levels: {}, pictures: new Map(), events: [] };
  /** From pads and other programs to the desk. */
  readonly presses: Presses;
  /** Its guests. */
  readonly wings: Wings;

  /** @throws Fault `show.missing` */
  constructor(
    readonly id: string,
    readonly parts: OpenShowParts,
  ) {
    const { revision, records } = parts.shows.load(id);
    this.#document = documentOf(records);
    this.#revision = revision;
    this.#programme = parts.shows.programme(id);
    this.bus = new BusServer(
      parts.log,
      () => [
        { type: 'revision', revision: this.#revision },
        ...this.audience.greeting(),
        { type: 'programme', state: this.#programme },
        { type: 'ownPoll', poll: this.audience.polls.result },
        this.wings.message(),
        ...parts.greet(this),
      ],
      (message) => this.#fromPage(message),
      () => parts.left(this),
    );
    this.wings = new Wings({
      ...parts.guests,
      document: () => this.#document,
      programme: () => this.#programme,
      broadcast: (message) => this.bus.broadcast(message),
      sayToDesk: (message) => this.bus.sayToDesk(message),
      hasDesk: () => this.bus.hasDesk,
      now: Date.now,
    });
    this.presses = new Presses((message) => this.bus.sayToDesk(message));
    this.audience = new Audience({
      ...parts,
      showId: id,
      say: (message) => {
        this.bus.broadcast(message);
        if (message.type === 'audience') this.#keepForPads(message.events);
      },
      tellPoll: (poll) => this.bus.broadcast({ type: 'ownPoll', poll }),
      document: () => this.#document,
    });
    // One that ran when the server was ended is counted on.
    this.audience.polls.follow(this.#programme);
  }

  #keepForPads(events: readonly AudienceEvent[]): void {
    const told = events.map((event): PadEvent => {
      const { seq, type, platform, viewer } = event;
      const more = event.type === 'chat' ? { text: event.text } : { text: event.message };
      const money = event.type === 'chat' ? null : event.money;
      const count = event.type === 'chat' ? null : event.count;
      return { seq, type, platform, viewer, ...more, money, count };
    });
    this.forPads.events = [...this.forPads.events, ...told].slice(-EVENTS_KEPT);
  }

  get document(): ShowDocument {
    return this.#document;
  }

  /** How its programme stands. */
  get programme(): ProgrammeState {
    return this.#programme;
  }

  get revision(): number {
    return this.#revision;
  }

  get name(): string {
    return this.#document.get(this.id)?.name ?? '';
  }

  /**
   * Puts an edit in its place after all that came before, keeps it, and tells every page what it came to.
   *
   * @param seen the records it changes as they were when it was made
   * @returns the revision it made, also when it is sent a second time, and the names of what had been removed meanwhile
   * @throws Fault `edit.*` when it does not fit; nothing is changed then
   */
  edit(edit: Edit, seen: readonly AnyRecord[]): { revision: number; gone: string[] } {
    const { shows } = this.parts;
    const before = shows.revisionOf(this.id, edit.id);
    if (before !== null) return { revision: before, gone: [] };
    if (edit.put.some((r) => r.showId !== this.id || (r.kind === 'show' && r.id !== this.id)))
      throw new Fault('edit.show', 'the edit belongs to another show');
    const { document, change, gone } = settle(this.#document, edit, seen);
    // Halves of two good records can make a bad one.
    checkRecords(change.put);
    const revision = this.#revision + 1;
    shows.write(this.id, edit.id, change, this.#document, revision);
    this.#document = document;
    this.#revision = revision;
    this.bus.broadcast({
      type: 'edit',
      change: { ...change, revision, id: edit.id, name: edit.name },
    });
    this.audience.edited();
    this.wings.changed();
    this.parts.edited(this, change);
    return { revision, gone };
  }

  close(): void {
    this.audience.close();
    this.wings.close();
    this.bus.close();
  }

  #fromPage(message: Exclude<BusFromPage, { type: 'claim' | 'health' }>): void {
    switch (message.type) {
      case 'programme': {
        const { shows, writes, programmeChanged } = this.parts;
        const before = this.#programme;
        this.#programme = message.state;
        writes.do(() => shows.setProgramme(this.id, message.state));
        this.bus.broadcast({ type: 'programme', state: message.state });
        this.audience.polls.follow(message.state);
        programmeChanged(this, message.entry, before);
        this.wings.changed();
        break;
      }
      case 'levels':
        this.forPads.levels = message.levels;
        break;
      case 'scenePicture': {
        const { pictures } = this.forPads;
        // Scenes that were removed leave their pictures; there are never many more than scenes.
        for (const id of pictures.keys()) if (!this.#document.has(id)) pictures.delete(id);
        if (this.#document.has(message.sceneId)) pictures.set(message.sceneId, message.jpeg);
        break;
      }
      case 'callGuests':
        this.wings.call(message.guestIds);
        break;
      case 'guestSignal':
        this.wings.signal(message.guestId, message.signal);
        break;
      case 'guestOrder':
        this.wings.order(message.guestId, message.order);
        break;
      case 'talkTo':
        this.wings.talkTo(message.to);
        break;
      case 'taken':
        this.presses.taken(message.id);
        break;
      case 'pressed':
        this.presses.answered(message.id, message.problem);
        break;
      case 'readOut':
        this.audience.hub.readOut(message.order, message.seq);
        break;
      case 'read':
        this.audience.hub.read(message.seq);
        break;
    }
  }
}
