import { randomBytes, randomUUID } from 'node:crypto';
import { isRecorded, shareMore, type Encode } from '../../core/delivery/encodes';
import { encodesInUse, enabledDestinations, planInUse } from '../../core/delivery/live-plan';
import { encodingOf, followPlan, type Encoding } from '../../core/delivery/plan-steps';
import { PLAIN_PLAN, START_DELIVERY } from '../../core/delivery/settings';
import { Fault, messageOf } from '../../core/fault';
import type { ProgrammeEntry } from '../../core/programme/commands';
import type { ProgrammeState } from '../../core/programme/programme-state';
import type { Change } from '../../core/show/settle';
import { findRecord, recordsOf, type ShowDocument } from '../../core/show/document';
import type { BroadcastState, Purpose } from '../../protocol/bus';
import type {
  BeginOrder,
  DeskHealth,
  DestinationOrder,
  KeptFile,
  RelayStatus,
} from '../../protocol/relay-orders';
import type { LateWrites } from '../db/late-writes';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { ShowRepository } from '../db/show-repository';
import type { Log } from '../log';
import type { PlatformAccounts } from '../accounts/platform-accounts';
import type { EveningLog } from '../vault/evening-log';
import type { RecordingRepository } from '../vault/recording-repository';
import { announcementText, type Announcer } from './announcer';
import { destinationOrders } from './destination-orders';
import { keepClips, type KeepAsked } from './keep-clips';
import type { RelayClient } from './relay-client';

const POLL_MS = 1000;
/** Between tries to enter the files of a broadcast that is over. */
const BOOKS_AGAIN_MS = 5000;

interface Stored {
  order: Omit<BeginOrder, 'destinations'>;
  showId: string;
  startedAtMs: number;
  purpose: Purpose;
  encodes: Encode[];
  encoding?: Encoding;
  /** Number of the last audience entry before it. */
  fromSeq: number;
}

const sendsNothing = (purpose: Purpose): boolean => purpose === 'record' || purpose === 'lookBack';

/** Starts and stops broadcasts, and keeps watching the relay while one runs. */
export class Broadcast {
  state: BroadcastState = { state: 'off', elsewhere: null };
  status: RelayStatus | null = null;
  /** What did not work on platforms at going live. */
  problems: string[] = [];
  #order: Omit<BeginOrder, 'destinations'> | null = null;
  #showId: string | null = null;
  #startedAtMs = 0;
  #purpose: Purpose = 'live';
  /** Those that run, and what they have in common; a plan that is changed meanwhile counts when somebody says so. */
  #encodes: Encode[] = [];
  #encoding: Encoding = encodingOf(PLAIN_PLAN);
  #announced = false;
  /** The session whose last seconds go out. */
  #ending: string | null = null;
  #polling = false;
  #booksTimer: NodeJS.Timeout | undefined;
  readonly #timer: NodeJS.Timeout;

  constructor(
    readonly options: {
      relay: RelayClient;
      uplinkUrl: string;
      shows: ShowRepository;
      secrets: SecretRepository;
      recordings: RecordingRepository;
      evening: EveningLog;
      /** For what must not hold up a broadcast: what a restarted server needs to know of it, its clips. */
      writes: Pick<LateWrites, 'do'>;
      announcer: Announcer;
      accounts: Pick<PlatformAccounts, 'prepare' | 'announce'>;
      scratchFolder: string;
      /** A stand-in that takes rehearsals and shows them to nobody; null when none runs. */
      rehearsalUrl: string | null;
      /** What the desk last said about itself, for the report. */
      health: (showId: string) => DeskHealth | null;
      log: Log;
      now: () => number;
      changed: () => void;
      /** A broadcast is over and its files are closed. */
      ended: (showId: string, eveningId: string | null) => void;
    },
  ) {
    this.#timer = setInterval(() => void this.#poll(), POLL_MS);
  }

  /** Of the broadcast that runs; null when none does. */
  get sessionId(): string | null {
    return this.#order?.sessionId ?? null;
  }

  /** The show that is on air, or whose last seconds go out; null when none is. */
  get showId(): string | null {
    return this.#showId;
  }

  /**
   * Orders for a broadcast come from the pages of its show.
   * @throws Fault `broadcast.otherShow`
   */
  mustBeOf(showId: string): void {
    if (this.showId === null || this.showId === showId) return;
    throw new Fault(
      'broadcast.otherShow',
      `${this.#nameOf(this.showId)} is on air, and this is another show: open that one to change its broadcast`,
    );
  }

  #nameOf(showId: string): string {
    return this.options.shows.list().find(({ id }) => id === showId)?.name ?? 'Another show';
  }

  /** The broadcast as the pages of a show see it: that of another show is none of theirs. */
  stateFor(showId: string): BroadcastState {
    const { showId: onAir } = this;
    if (onAir === null || onAir === showId) return this.state;
    return { state: 'off', elsewhere: this.#nameOf(onAir) };
  }

  /** After a restart of the web server: a broadcast that was not stopped is taken up again. */
  resume(): void {
    const stored = this.options.secrets.get(subjects.broadcast);
    if (stored === null) return;
    const { order, showId, startedAtMs, purpose, encodes, encoding, fromSeq } = JSON.parse(stored) as Stored;
    this.#purpose = purpose;
    this.#encodes = encodes;
    // One that began before an update has none.
    this.#encoding = { ...this.#encoding, ...encoding };
    // Whoever was to be told was told when it began.
    this.#announced = true;
    this.options.evening.resume(order.sessionId, showId, fromSeq);
    this.#order = order;
    this.#showId = showId;
    this.#startedAtMs = startedAtMs;
    this.#setOn();
  }

  /**
   * @param purpose what it is for: `record` and `lookBack` send nothing, `rehearse` sends to a stand-in
   * @throws Fault `broadcast.*` or `relay.*` with what to do
   */
  async start(
    showId: string,
    origin: string,
    purpose: Purpose = 'live',
  ): Promise<Omit<BeginOrder, 'destinations'>> {
    this.mustBeOf(showId);
    if (this.state.state === 'ending')
      throw new Fault(
        'broadcast.ending',
        'the last seconds of the one before still go out: cut them off first',
      );
    if (this.state.state !== 'off')
      throw new Fault('broadcast.on', 'a broadcast is on already: stop it first');
    const document = this.options.shows.document(showId);
    const show = recordsOf(document, 'show')[0];
    const { record, lookback } = show?.delivery ?? START_DELIVERY;
    const recorded = purpose === 'lookBack' ? [] : record.frames;
    const sent = planInUse(document)?.frames ?? {};
    const tracksIn = (['wide', 'tall', 'clean'] as const).find(
      (picture) => recorded.includes(picture) && sent[picture === 'clean' ? 'wide' : picture],
    );
    const order = {
      sessionId: randomUUID(),
      ticket: randomBytes(24).toString('base64url'),
      origin,
      recordingFolder: recorded.length > 0 ? this.options.recordings.place.usable : null,
      record: {
        frames: recorded,
        splitMinutes: record.splitMinutes,
        splitMb: record.splitMb,
        pattern: record.pattern.replaceAll('{show}', (show?.name ?? '').replace(/[/\\:*?"<>|]/g, ' ')),
        ...(tracksIn && { tracksIn }),
      },
      lookbackSeconds: lookback.on || purpose === 'lookBack' ? lookback.seconds : 0,
      adaptive: planInUse(document)?.adaptive ?? true,
      scratchFolder: this.options.scratchFolder,
    };
    if (purpose === 'rehearse' && this.options.rehearsalUrl === null)
      throw new Fault('broadcast.rehearsal', 'no stand-in runs here: a rehearsal needs one');
    this.#purpose = purpose;
    this.#encodes = encodesInUse(document).filter(({ id }) => !sendsNothing(purpose) || isRecorded(id));
    const inUse = planInUse(document);
    if (inUse) this.#encoding = encodingOf(inUse);
    const problems = purpose === 'live' ? await this.#prepare(document) : [];
    const { problem } = this.options.recordings.place;
    if (problem !== null && order.recordingFolder !== null)
      problems.push(`${problem}. This broadcast is recorded in the studio’s own folder.`);
    this.status = await this.options.relay.begin({ ...order, destinations: this.#destinations(document) });
    this.#order = order;
    this.#showId = showId;
    this.#startedAtMs = this.options.now();
    this.#announced = purpose !== 'live' || !(show?.delivery.announce.on ?? false);
    const title = enabledDestinations(document)[0]?.details.title || (show?.name ?? '');
    this.options.evening.begin(
      { id: order.sessionId, showId, startedMs: this.#startedAtMs, title },
      document,
      this.options.shows.programme(showId),
    );
    for (const problem of problems) this.options.evening.moment({ kind: 'announced', message: problem });
    this.problems = problems;
    this.#store();
    this.#setOn();
    return order;
  }

  /**
   * Ends it for everyone who sees it without delay; the others still get what they have not seen.
   * @throws Fault `relay.gone`
   */
  async finish(): Promise<void> {
    if (!this.#order) return;
    await this.#lookOnce();
    const { session } = await this.options.relay.finish();
    if (session?.state !== 'finishing') return this.stop();
    this.#ending = this.#order.sessionId;
    this.options.evening.end();
    this.#forget();
    this.status = { session };
    this.#setEnding(session.secondsToFinish);
  }

  #setEnding(seconds: number): void {
    this.state = { state: 'ending', endsAtMs: Math.round(this.options.now() + seconds * 1000) };
    this.options.changed();
  }

  async stop(): Promise<void> {
    const counts = this.#order !== null && this.#ending === null;
    if (counts) await this.#lookOnce();
    const { evening } = this.options;
    const [showId, eveningId, health] = [this.#showId, evening.id, this.#health()];
    this.#ending = null;
    // The wish to stop holds even when the relay cannot be told: it is not opened anew.
    this.#order = null;
    this.#showId = null;
    this.state = { state: 'off', elsewhere: null };
    this.#forget();
    try {
      const { session } = await this.options.relay.end();
      if (counts && evening.id === eveningId) evening.look(session, health, this.#encoding.fps);
    } finally {
      if (evening.id === eveningId) evening.end();
      this.status = null;
      if (showId) await this.#closeBooks(showId, eveningId);
      this.options.changed();
    }
  }

  /** What came since the last look belongs in the report; a relay that does not answer costs nothing but that. */
  async #lookOnce(): Promise<void> {
    try {
      const { session } = await this.options.relay.status();
      this.options.evening.look(session, this.#health(), this.#encoding.fps);
    } catch (error) {
      this.options.log.debug({ error: messageOf(error) }, 'no last look at the relay');
    }
  }

  #health(): DeskHealth | null {
    return this.#showId === null ? null : this.options.health(this.#showId);
  }

  /** Enters the files of a broadcast that is over. It is over also when that fails: it is tried again. */
  async #closeBooks(showId: string, eveningId: string | null): Promise<void> {
    try {
      await this.options.recordings.scan(showId, [], eveningId);
      this.options.ended(showId, eveningId);
    } catch (error) {
      this.options.log.error({ error: messageOf(error) }, 'the recordings could not be entered yet');
      this.#booksTimer = setTimeout(() => {
        void this.#closeBooks(showId, eveningId).then(() => this.options.changed());
      }, BOOKS_AGAIN_MS);
    }
  }

  /**
   * Saves the last seconds as files.
   * @throws Fault `broadcast.off`, `relay.refused` with what to do
   */
  async keep(...asked: KeepAsked): Promise<KeptFile[]> {
    if (!this.#showId)
      throw new Fault('broadcast.off', 'nothing is on air: there is nothing to look back on');
    const files = await keepClips(this.options, this.#showId, asked);
    this.options.changed();
    return files;
  }

  /** @throws Fault when nothing is on air */
  mark(words: string): void {
    if (!this.#showId) throw new Fault('broadcast.off', 'nothing is on air: markers belong to a broadcast');
    this.options.evening.moment({ kind: 'marker', words });
  }

  async pauseRecording(paused: boolean): Promise<void> {
    this.status = await this.options.relay.pauseRecording(paused);
    this.options.changed();
  }

  /** The cover by hand. @throws Fault `broadcast.off`, `relay.refused` */
  async cover(on: boolean): Promise<void> {
    if (!this.#order) throw new Fault('broadcast.off', 'nothing is on air: there is nothing to cover');
    this.status = await this.options.relay.cover(on);
    // A relay that is started anew must not lift it.
    this.#order = { ...this.#order, covered: on };
    this.#store();
    this.options.changed();
  }

  /** @returns seconds that never go out to this destination */
  async cut(destinationId: string, seconds: number): Promise<number> {
    return (await this.options.relay.cut(destinationId, seconds)).seconds;
  }

  /** The show that is on air was edited. */
  edited(revision: number, change: Change): void {
    this.options.evening.edited(revision, change);
  }

  /** Something was done to the programme. @param before how it stood until then */
  programmeChanged(
    { document, programme }: { document: ShowDocument; programme: ProgrammeState },
    entry: ProgrammeEntry,
    before: ProgrammeState,
  ): void {
    this.options.evening.programme(entry);
    const { onAir, rundown } = programme;
    const scene =
      onAir?.sceneId !== before.onAir?.sceneId && findRecord(document, 'scene', onAir?.sceneId ?? null);
    const segment =
      rundown?.segmentId !== before.rundown?.segmentId &&
      findRecord(document, 'segment', rundown?.segmentId ?? null);
    if (segment)
      this.options.evening.moment({
        kind: 'segment',
        name: segment.name,
        plannedSeconds: segment.plannedSeconds,
      });
    if (scene) this.options.evening.moment({ kind: 'scene', name: scene.name });
  }

  /**
   * Tells the relay about a destination that was changed, added or removed while its show is on air.
   * @throws Fault `relay.*`
   */
  async destinationChanged(showId: string, destinationId: string): Promise<void> {
    if (this.state.state === 'off' || this.#ending !== null || this.#showId !== showId) return;
    const document = this.options.shows.document(showId);
    const plan = planInUse(document);
    if (plan && !sendsNothing(this.#purpose))
      this.#encodes = shareMore(this.#encodes, plan, enabledDestinations(document));
    this.#store();
    const order = this.#destinations(document).find((d) => d.id === destinationId);
    this.status = await (order
      ? this.options.relay.setDestination(order)
      : this.options.relay.removeDestination(destinationId));
    this.#setOn();
  }

  /**
   * What the plan says by now is encoded from the next keyframe on: by the desk, which hears of it like of everything else.
   * Who gets which encode, and the sound, stay as they are.
   * @throws Fault `broadcast.off`, `broadcast.plan`
   */
  changePlan(showId: string): void {
    if (this.state.state !== 'on')
      throw new Fault('broadcast.off', 'nothing is on air: the plan counts from the next broadcast');
    const document = this.options.shows.document(showId);
    const plan = planInUse(document);
    if (!plan) throw new Fault('broadcast.plan', 'there is no delivery plan: add one in Delivery');
    this.#encodes = followPlan(this.#encodes, encodesInUse(document));
    this.#encoding = encodingOf(plan);
    const sizes = this.#encodes.map(
      ({ width, height, videoKbps }) => `${width}×${height} at ${videoKbps} kbps`,
    );
    this.options.evening.moment({
      kind: 'plan',
      message: `Sent from now on: ${sizes.join(', ')}, ${plan.fps} fps`,
    });
    this.#store();
    this.#setOn();
  }

  close(): void {
    clearInterval(this.#timer);
    clearTimeout(this.#booksTimer);
  }

  #destinations(document: ShowDocument): DestinationOrder[] {
    if (sendsNothing(this.#purpose)) return [];
    const { secrets, rehearsalUrl } = this.options;
    const keyOf = (id: string) => secrets.get(subjects.streamKey(id));
    return destinationOrders(
      document,
      this.#encodes,
      keyOf,
      this.#purpose === 'rehearse' ? rehearsalUrl : null,
    );
  }

  /** Titles and fresh keys on platforms that are signed in to. @returns what did not work: nobody waits for it */
  async #prepare(document: ShowDocument): Promise<string[]> {
    const [show] = recordsOf(document, 'show');
    const results = await Promise.allSettled(
      enabledDestinations(document).map((d) => this.options.accounts.prepare(d, show.name)),
    );
    return results.flatMap((r) => (r.status === 'rejected' ? messageOf(r.reason) : []));
  }

  /** Tells whoever is to be told, once, when the first destination has confirmed. */
  async #announce(status: RelayStatus['session']): Promise<void> {
    if (this.#announced || !this.#showId) return;
    const live = status?.destinations.filter((d) => d.state === 'live').map((d) => d.name) ?? [];
    if (live.length === 0) return;
    this.#announced = true;
    const { accounts, announcer, evening, log } = this.options;
    const showId = this.#showId;
    const document = this.options.shows.document(showId);
    const show = recordsOf(document, 'show')[0];
    const enabled = enabledDestinations(document);
    const title = enabled[0]?.details.title || show.name;
    const facts = { show: show.name, title, destinations: live };
    const text = announcementText(show.delivery.announce.text, facts);
    /** @returns whether there was anybody to tell */
    const tell = async (to: string, telling: Promise<boolean>): Promise<boolean> => {
      try {
        if (!(await telling)) return false;
        evening.moment({ kind: 'announced', message: `Announced to ${to}` });
      } catch (error) {
        log.warn({ error: messageOf(error) }, 'announcement failed');
        evening.moment({ kind: 'announced', message: `Not announced: ${messageOf(error)}` });
      }
      return true;
    };
    const told = await Promise.all(enabled.map((d) => tell(d.name, accounts.announce(d, show.name, text))));
    // With nobody told at all it says that no address is stored.
    const target = announcer.target(showId);
    if (target !== null || !told.includes(true))
      await tell(
        target ?? '',
        announcer.announce(showId, { ...facts, text }).then(() => true),
      );
  }

  #setOn(): void {
    if (!this.#order) return;
    const { sessionId, ticket } = this.#order;
    this.state = {
      state: 'on',
      sessionId,
      ticket,
      uplinkUrl: this.options.uplinkUrl,
      startedAtMs: this.#startedAtMs,
      purpose: this.#purpose,
      encodes: this.#encodes,
      encoding: this.#encoding,
    };
    this.options.changed();
  }

  /** What a restarted web server needs to take the broadcast up again. */
  #store(): void {
    if (!this.#order || !this.#showId) return;
    const stored: Stored = {
      order: this.#order,
      showId: this.#showId,
      startedAtMs: this.#startedAtMs,
      purpose: this.#purpose,
      encodes: this.#encodes,
      encoding: this.#encoding,
      fromSeq: this.options.evening.fromSeq,
    };
    const text = JSON.stringify(stored);
    this.options.writes.do(() => this.options.secrets.set(subjects.broadcast, text, this.options.now()));
  }

  /** It is not taken up again. */
  #forget(): void {
    this.options.writes.do(() => this.options.secrets.remove(subjects.broadcast));
  }

  async #poll(): Promise<void> {
    if (this.#polling || this.state.state === 'off') return;
    this.#polling = true;
    try {
      const status = await this.options.relay.status();
      // Stopped while we asked: what came back is about the past.
      if (!this.#order || !this.#showId) return;
      this.status = status;
      if (this.#ending !== null) {
        const { session } = status;
        if (session?.id === this.#ending && session.state === 'finishing')
          this.#setEnding(session.secondsToFinish);
        else await this.stop();
        return;
      }
      if (status.session?.id !== this.#order.sessionId) {
        // The relay was started anew and knows nothing: open the same session again, with the same ticket.
        this.options.log.warn('the relay lost the broadcast: reopening it');
        this.status = await this.options.relay.begin({
          ...this.#order,
          destinations: this.#destinations(this.options.shows.document(this.#showId)),
        });
      }
      this.options.evening.look(this.status.session, this.#health(), this.#encoding.fps);
      void this.#announce(this.status.session);
      this.#setOn();
    } catch (error) {
      if (!this.#order) return;
      this.status = null;
      this.state = { state: 'relayGone', message: messageOf(error) };
      this.options.changed();
    } finally {
      this.#polling = false;
    }
  }
}
