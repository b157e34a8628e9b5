import { EMPTY_ACCOUNT, enterLook, totalsOf, type AccountState } from '../../core/delivery/evening-account';
import type { EveningMoment } from '../../core/delivery/evening';
import type { ProgrammeEntry } from '../../core/programme/commands';
import type { ProgrammeState } from '../../core/programme/programme-state';
import { findRecord, type ShowDocument } from '../../core/show/document';
import type { Change } from '../../core/show/settle';
import type { DeskHealth, RelayStatus } from '../../protocol/relay-orders';
import type { LateWrites } from '../db/late-writes';
import type { Evening, EveningRepository } from './evening-repository';

/** Figures are kept this often. */
const SAMPLE_MS = 5000;

interface ViewerCounts {
  lastSeq(): number;
  countsAfter(seq: number): { chat: number; events: number };
}

/** Writes down what happens while a broadcast runs: changes when they happen, figures every few seconds. */
export class EveningLog {
  #id: string | null = null;
  #states = new Map<string, string>();
  #session = '';
  /** Fewer pictures a second than planned, as told last; null for all of them. */
  /** What the desk gives up to keep up, as text; null for nothing. */
  #gives: string | null = null;
  #cause = '';
  #recording = '';
  #sampledMs = 0;
  /** Of the last look, as long as they are not noted. */
  #figures: EveningMoment | null = null;
  /** What it adds up to. */
  #account: AccountState = EMPTY_ACCOUNT;
  #viewers: ViewerCounts | null = null;
  /** Viewers' doings after this one belong to the broadcast. */
  fromSeq = 0;

  constructor(
    readonly evenings: EveningRepository,
    readonly writes: Pick<LateWrites, 'do'>,
    readonly now: () => number,
    /** What viewers of a show did. */
    readonly audience: (showId: string) => ViewerCounts,
  ) {}

  get id(): string | null {
    return this.#id;
  }

  /** @param document the show as it is then */
  begin(
    { id, showId, startedMs, title }: Omit<Evening, 'endedMs'>,
    document: ShowDocument,
    programme: ProgrammeState,
  ): void {
    // One whose relay was still ending.
    if (this.#id !== null) this.end();
    this.writes.do(() => this.evenings.begin({ id, showId, startedMs, title }));
    this.writes.do(() => this.evenings.keepShow(id, [...document.values()], programme));
    this.resume(id, showId, this.audience(showId).lastSeq());
    this.#account = EMPTY_ACCOUNT;
    const scene = findRecord(document, 'scene', programme.onAir?.sceneId ?? null);
    if (scene) this.moment({ kind: 'scene', name: scene.name });
  }

  /** Goes on after the server was started anew. */
  resume(id: string, showId: string, fromSeq: number): void {
    this.#id = id;
    this.#viewers = this.audience(showId);
    this.fromSeq = fromSeq;
    this.#states = new Map();
    this.#session = '';
    this.#cause = '';
    this.#gives = null;
    this.#recording = '';
    this.#figures = null;
    this.#account = this.evenings.account(id) ?? EMPTY_ACCOUNT;
  }

  end(): void {
    // What happened since figures were noted last.
    this.#noteFigures();
    const [id, nowMs] = [this.#id, this.now()];
    if (id) this.writes.do(() => this.evenings.end(id, nowMs));
    this.#id = null;
  }

  moment(moment: EveningMoment): void {
    const [id, nowMs] = [this.#id, this.now()];
    if (id) this.writes.do(() => this.evenings.add(id, nowMs, moment));
  }

  /** Keeps what was done to the programme. */
  programme(entry: ProgrammeEntry): void {
    const id = this.#id;
    if (id) this.writes.do(() => this.evenings.addEntry(id, entry));
  }

  /** Keeps an edit of the show. @param revision of the show after it */
  edited(revision: number, { put, removed }: Change): void {
    const [id, atMs] = [this.#id, this.now()];
    if (id) this.writes.do(() => this.evenings.addEdit(id, { revision, atMs, put, removed }));
  }

  /** Looks at what changed; called once a second. */
  look(status: RelayStatus['session'], health: DeskHealth | null, plannedFps: number): void {
    if (!this.#id || !status) return;
    this.#account = enterLook(this.#account, {
      atMs: this.now(),
      desk: health,
      // Until the first picture nothing was due.
      relay: status.startedAtMs === null ? null : status,
      fps: plannedFps,
    });
    for (const { name, state, message } of status.destinations) {
      if (this.#states.get(name) === state) continue;
      const first = !this.#states.has(name);
      this.#states.set(name, state);
      if (!first || state !== 'connecting') this.moment({ kind: 'destination', name, state, message });
    }
    if (status.state !== this.#session) {
      // That it comes to life at the beginning is no event.
      if (this.#session !== '' && status.state !== 'waiting' && this.#session !== 'waiting')
        this.moment({ kind: 'session', state: status.state, message: status.message });
      this.#session = status.state;
    }
    const { cause, shares } = status.line;
    if (cause !== this.#cause) {
      if (this.#cause !== '' || cause !== 'none')
        this.moment({ kind: 'line', cause, share: Math.min(1, ...Object.values(shares)) });
      this.#cause = cause;
    }
    // Another plan is a change of its own, and told as one.
    const slower = health !== null && health.pace > 0 && health.pace < plannedFps * 0.99;
    const fps = slower ? health.pace : plannedFps;
    const scale = health?.scale ?? 1;
    const gives = slower || scale < 1 ? `${fps} ${scale}` : null;
    if (health && gives !== this.#gives) {
      this.moment({ kind: 'pace', fps, planned: plannedFps, scale });
      this.#gives = gives;
    }
    const problem = status.recording?.message || withoutFigures(status.recording?.room ?? '');
    if (problem !== this.#recording) {
      if (problem) this.moment({ kind: 'recording', message: problem });
      this.#recording = problem;
    }
    this.#figures = {
      kind: 'sample',
      fps: health?.fps ?? 0,
      kbps: status.received.kbps,
      lufs: health?.lufs ?? null,
      ...totalsOf(this.#account),
      account: this.#account,
      ...(this.#viewers?.countsAfter(this.fromSeq) ?? { chat: 0, events: 0 }),
      destinations: status.destinations.map(({ name, kbps, framesDropped, lagMs, state }) => ({
        name,
        kbps,
        dropped: framesDropped,
        lagMs,
        state,
      })),
    };
    if (this.now() - this.#sampledMs < SAMPLE_MS) return;
    this.#sampledMs = this.now();
    this.#noteFigures();
  }

  #noteFigures(): void {
    if (this.#figures) this.moment(this.#figures);
    this.#figures = null;
  }
}

/** So that a figure that goes down by itself is noted once. */
function withoutFigures(words: string): string {
  return words.replace(/: recordings continue for [^.]*\./, '.');
}
