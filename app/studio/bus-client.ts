import type { PollResult } from '~/core/audience/own-poll';
import type { AudienceEvent, Moderation } from '~/core/audience/events';
import type { Press } from '~/core/commands/commands';
import type { CommandSource } from '~/core/programme/commands';
import type { ProgrammeState } from '~/core/programme/programme-state';
import type { EntryMark, PlatformStatus, ReadOutState, Rejection } from '~/protocol/audience-bus';
import { REVOKED } from '~/core/access/roles';
import type { BroadcastState, BusFromPage, BusFromServer, ServiceFacts } from '~/protocol/bus';
import type { ToLiveAudience } from '~/protocol/engine';
import type { GuestNow, GuestSignal, IceServer } from '~/protocol/guest';
import type { RelayStatus } from '~/protocol/relay-orders';
import type { VaultJob } from '~/protocol/vault';

export interface BusSnapshot {
  connected: boolean;
  /** `free`: no page has it. */
  lease: 'asking' | 'held' | 'elsewhere' | 'free';
  events: readonly AudienceEvent[];
  /** What was done with entries, by number, since the page came. */
  marks: ReadonlyMap<number, readonly EntryMark[]>;
  /** What moderators took away since the page came. */
  moderations: readonly Moderation[];
  /** How far the host has read. */
  readSeq: number;
  platforms: readonly PlatformStatus[];
  rejections: readonly Rejection[];
  readOut: ReadOutState;
  /** How the programme stands, as the server was told last; null until it says. */
  programme: ProgrammeState | null;
  /** The show's own poll while it runs. */
  ownPoll: PollResult | null;
  relay: RelayStatus | null;
  broadcast: BroadcastState;
  /** Copies that are being made in the Vault. */
  jobs: readonly VaultJob[];
  /** Pads that are connected. */
  pads: number;
  services: readonly ServiceFacts[];
  /** Everybody who came by a guest's link, and by which servers they are reached. */
  guests: readonly GuestNow[];
  ice: readonly IceServer[];
}

export type ShowMessage = Extract<BusFromServer, { type: 'revision' | 'edit' | 'showGone' }>;

const RETRY_MS = [300, 1000, 2000, 4000];
/** Newest entries that a page keeps. */
export const MAX_EVENTS = 400;
const GATHER_MS = 200;
/** While so many come in one go nobody reads each of them: the lists follow in larger steps. */
const FLOOD_EVENTS = 12;
const FLOOD_GATHER_MS = 600;
/** Messages since the last book that a desk opening later is told. */
const MAX_TOLD = 500;

/** The page's end of the bus: connected again by itself, asks for the lease each time. */
export class BusClient {
  /** Somebody presses a command from elsewhere. @returns what went wrong, or null */
  onPress: (press: Press, by: CommandSource, held: boolean) => Promise<string | null> = () =>
    Promise.resolve('The studio page is still opening: press again.');
  /** A guest's page has something to say about its connection with the desk. */
  onGuestSignal: (guestId: string, signal: GuestSignal) => void = () => {};
  /** Presses that have come and are not called for yet. */
  readonly #presses = new Map<number, () => Promise<string | null>>();
  /** Of the programme, while the server could not be told. */
  #untold: BusFromPage[] = [];
  #snapshot: BusSnapshot;
  readonly #listeners = new Set<() => void>();
  #socket: WebSocket | null = null;
  #tries = 0;
  #closed = false;
  #gathered: AudienceEvent[] = [];
  #gathering: ReturnType<typeof setTimeout> | null = null;
  #gatherMs = GATHER_MS;
  /** What a desk that opens now has to be told to know what this one knows. */
  #told: ToLiveAudience[] = [];

  constructor(
    readonly deskId: string,
    broadcast: BroadcastState,
    readonly showId: string,
    /** For the stage. */
    readonly onAudience: (message: ToLiveAudience) => void,
    /** For the show's records. */
    readonly onShow: (message: ShowMessage) => void,
  ) {
    this.#snapshot = {
      connected: false,
      lease: 'asking',
      events: [],
      marks: new Map(),
      moderations: [],
      readSeq: 0,
      platforms: [],
      rejections: [],
      readOut: { shown: null, sinceMs: 0, queue: [], history: [] },
      programme: null,
      ownPoll: null,
      relay: null,
      broadcast,
      jobs: [],
      pads: 0,
      services: [],
      guests: [],
      ice: [],
    };
    this.#connect();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): BusSnapshot => this.#snapshot;

  say(message: BusFromPage): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(message));
    // What was done to the programme is a list without gaps.
    else if (message.type === 'programme') this.#untold.push(message);
  }

  takeOver(): void {
    this.say({ type: 'claim', deskId: this.deskId, takeOver: true });
  }

  /** What an action answered is newer than what the bus said last. */
  setBroadcast(broadcast: BroadcastState): void {
    this.#change({ broadcast });
  }

  close(): void {
    this.#closed = true;
    if (this.#gathering) clearTimeout(this.#gathering);
    this.#socket?.close();
  }

  #connect(): void {
    const socket = new WebSocket(
      `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/bus/${this.showId}`,
    );
    this.#socket = socket;
    socket.onopen = () => {
      this.#tries = 0;
      this.#change({ connected: true });
      this.say({ type: 'claim', deskId: this.deskId, takeOver: false });
    };
    socket.onmessage = ({ data }: MessageEvent<string>) => this.#take(JSON.parse(data) as BusFromServer);
    socket.onclose = ({ reason }) => {
      if (this.#closed) return;
      // Signed out from elsewhere: the page that says so, and what to do, is where everybody lands.
      if (reason === REVOKED) return location.assign('/');
      this.#presses.clear();
      this.#change({ connected: false });
      setTimeout(() => this.#connect(), RETRY_MS[Math.min(this.#tries++, RETRY_MS.length - 1)]);
    };
  }

  #take(message: BusFromServer): void {
    switch (message.type) {
      case 'revision':
      case 'edit':
      case 'showGone':
        this.onShow(message);
        break;
      case 'lease':
        this.#change({ lease: message.held ? 'held' : message.byOther ? 'elsewhere' : 'free' });
        if (message.held) for (const untold of this.#untold.splice(0)) this.say(untold);
        break;
      case 'press': {
        const { id, press, by, held } = message;
        this.#presses.set(id, () => this.onPress(press, by, held));
        this.say({ type: 'taken', id });
        break;
      }
      case 'go': {
        const press = this.#presses.get(message.id);
        // What was never called for stays undone; it need not be kept either.
        for (const id of [...this.#presses.keys()]) if (id <= message.id) this.#presses.delete(id);
        void press?.().then((problem) =>
          this.say({ type: 'pressed', id: message.id, problem: problem?.slice(0, 500) ?? null }),
        );
        break;
      }
      case 'book': {
        this.#gathered = [];
        const events: AudienceEvent[] = [...message.chat, ...message.book.recent].sort(
          (a, b) => a.seq - b.seq,
        );
        this.#change({ events: events.slice(-MAX_EVENTS), readSeq: message.readSeq });
        this.#told = [];
        this.#tell({ type: 'book', book: message.book, chat: message.chat });
        break;
      }
      case 'audience':
        this.#gather(message.events);
        this.#tell({ type: 'audience', events: message.events, cameMs: Date.now() });
        break;
      case 'moderation': {
        const { moderation } = message;
        this.#change({ moderations: [...this.#snapshot.moderations, moderation].slice(-MAX_EVENTS) });
        this.#tell({ type: 'moderation', moderation });
        break;
      }
      case 'marked': {
        const marks = new Map(this.#snapshot.marks);
        marks.set(message.seq, [...(marks.get(message.seq) ?? []), message.mark]);
        this.#change({ marks });
        break;
      }
      case 'readOut':
        this.#change({ readOut: message.readOut });
        this.#tell({ type: 'readOut', message: message.readOut.shown });
        break;
      case 'programme':
        this.#change({ programme: message.state });
        break;
      case 'ownPoll':
        this.#change({ ownPoll: message.poll });
        this.#tell({ type: 'ownPoll', poll: message.poll });
        break;
      case 'platforms':
        this.#change({ platforms: message.platforms, rejections: message.rejections });
        for (const { platform, by, viewers } of message.platforms)
          if (by === 'events') this.#tell({ type: 'viewers', platform, viewers });
        break;
      case 'services':
        this.#change({ services: message.services });
        break;
      case 'pads':
        this.#change({ pads: message.connected });
        break;
      case 'guests':
        this.#change({ guests: message.guests, ice: message.ice });
        break;
      case 'guestSignal':
        this.onGuestSignal(message.guestId, message.signal);
        break;
      case 'jobs':
        this.#change({ jobs: message.jobs });
        break;
      case 'relay':
        this.#change({ relay: message.status, broadcast: message.broadcast });
        break;
    }
  }

  /** The picture gets events at once; the page's lists a few times a second, so that a storm does not redraw them all the time. */
  #gather(events: readonly AudienceEvent[]): void {
    this.#gathered.push(...events);
    this.#gathering ??= setTimeout(() => {
      this.#gathering = null;
      const gathered = this.#gathered;
      this.#gathered = [];
      const flood = (gathered.length * GATHER_MS) / this.#gatherMs >= FLOOD_EVENTS;
      this.#gatherMs = flood ? FLOOD_GATHER_MS : GATHER_MS;
      this.#change({ events: [...this.#snapshot.events, ...gathered].slice(-MAX_EVENTS) });
    }, this.#gatherMs);
  }

  /** What a desk that has just opened must be told, in order. */
  toldSoFar(): readonly ToLiveAudience[] {
    return this.#told;
  }

  /** Everything up to there counts as read. */
  read(seq: number): void {
    if (seq <= this.#snapshot.readSeq) return;
    this.#change({ readSeq: seq });
    this.say({ type: 'read', seq });
  }

  #tell(message: ToLiveAudience): void {
    // Of readings and of what is read out only the last matters.
    if (message.type === 'viewers')
      this.#told = this.#told.filter((m) => m.type !== 'viewers' || m.platform !== message.platform);
    for (const type of ['readOut', 'ownPoll'] as const)
      if (message.type === type) this.#told = this.#told.filter((m) => m.type !== type);
    this.#told.push(message);
    if (this.#told.length > MAX_TOLD) this.#told.splice(1, 1);
    this.onAudience(message);
  }

  #change(part: Partial<BusSnapshot>): void {
    this.#snapshot = { ...this.#snapshot, ...part };
    for (const listener of this.#listeners) listener();
  }
}
