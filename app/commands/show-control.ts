import type { Press } from '~/core/commands/commands';
import { messageOf } from '~/core/fault';
import type { Stop } from '~/core/motion/programme';
import type { CommandSource, ProgrammeCommand, ProgrammeEntry } from '~/core/programme/commands';
import { changedChannels, inverseOf, type ProgrammeState } from '~/core/programme/programme-state';
import {
  clockAfter,
  nextUp,
  sceneCommands,
  segmentByItself,
  segmentCommands,
  segmentOn,
  stopOf,
  titleWords,
  type NextUp,
} from '~/core/rundown/rundown';
import { transitionFor } from '~/core/motion/programme';
import { findRecord, recordsOf, type ShowDocument } from '~/core/show/document';
import { inputsOfScene, sceneAfter } from '~/core/show/inputs-shown';
import { CUT, FADE, type Transition } from '~/core/show/motion-records';
import type { ChannelRecord } from '~/core/show/records';
import type { SegmentRecord } from '~/core/show/rundown-records';
import { FADER_MAX_DB, FADER_MIN_DB } from '~/core/sound/decibel';
import type { Desk } from '~/engine/desk.client';
import { systemClock } from '~/engine/system-clock';
import type { BroadcastOrders } from '../delivery/broadcast-orders';
import type { BusClient } from '../studio/bus-client';
import type { DocumentStore } from '../studio/document-store';
import { CueRunner, type RunningCue } from './cue-runner';

/** How often the rundown looks whether a length or a clock time is reached. */
const LOOK_MS = 200;
/** A fader that is dragged sends so often; the sound goes there in a straight line meanwhile. */
const DRAG_MS = 50;
const MAX_UNDO = 50;
/** A title has left the picture so long after its time. */
const LEAVES_MS = 700;
const MOST_QUEUED = 50;
const BY_HAND: ReadonlySet<CommandSource> = new Set(['page', 'key', 'pad', 'controller']);
/** Two presses within it are one: a double click. */
const HURRY_MS = 500;

export interface ControlSnapshot {
  cues: readonly RunningCue[];
  /** What *Back* brings on again. */
  before: Stop | null;
  /** Ids of titles that wait for the one that is on to leave, in order. */
  titles: readonly string[];
}

export interface ControlParts {
  desk: Desk;
  store: DocumentStore;
  bus: BusClient;
  broadcast: BroadcastOrders;
  say: (message: string) => void;
  /** What each command does. @returns what went wrong, in words; nothing or null when it was done */
  doPress: (
    control: ShowControl,
    press: Press,
    by: CommandSource,
    held: boolean,
  ) => Promise<string | null | void>;
}

/** A change of the programme that can be taken back. */
interface Undoable {
  atMs: number;
  commands: readonly ProgrammeCommand[];
}

/**
 * What every press does, wherever it comes from: a button, a key, a pad, a controller, another program, a cue, the rundown.
 * What concerns the programme becomes commands of the programme.
 */
export class ShowControl {
  readonly cues: CueRunner;
  readonly #listeners = new Set<() => void>();
  #snapshot: ControlSnapshot = { cues: [], before: null, titles: [] };
  readonly #undo: Undoable[] = [];
  /** Commands that take something back: they are not taken back again. */
  readonly #undoing = new WeakSet<readonly ProgrammeCommand[]>();
  readonly #endLook: () => void;
  /** The title of the bank that was shown last. */
  #titleAt = -1;
  /** When one left the queue: until the stage has said that it is on, no other one may. */
  #dequeuedMs = -Infinity;
  #dragged = new Map<string, number>();
  /** What a hand has begun to draw: it stays that until it is there or back. */
  #drawing: NextUp | null = null;
  /** The segment whose end was reached already: it moves on once. */
  #movedOn = '';

  constructor(readonly parts: ControlParts) {
    const { desk, bus } = parts;
    this.cues = new CueRunner(
      systemClock,
      (press) => this.press(press, 'cue'),
      (cue, problem) => parts.say(`${cue.name}: ${problem}`),
      () => this.#change({ cues: this.cues.running }),
    );
    desk.programme.onEntry = (entry, before) => {
      bus.say({ type: 'programme', entry, state: desk.programme.state });
      this.#entered(entry, before);
    };
    desk.onClipsEnded = (inputId, thenNext) => {
      const onAirId = this.state.onAir?.sceneId;
      if (onAirId && inputsOfScene(this.document, onAirId).has(inputId))
        this.#ended('clip', onAirId, thenNext);
    };
    desk.onCountdownEnded = (sceneId, thenNext) => {
      if (this.state.onAir?.sceneId === sceneId) this.#ended('countdown', sceneId, thenNext);
    };
    this.#endLook = systemClock.every(LOOK_MS, () => this.#look());
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): ControlSnapshot => this.#snapshot;

  get state(): ProgrammeState {
    return this.parts.desk.programme.state;
  }

  get document(): ShowDocument {
    return this.parts.store.document();
  }

  get broadcast(): BroadcastOrders {
    return this.parts.broadcast;
  }

  /** While a broadcast is on, what is done to levels is done to the programme; off air the show itself is set up. */
  get onAir(): boolean {
    return this.parts.bus.snapshot().broadcast.state !== 'off';
  }

  close(): void {
    this.#endLook();
    this.cues.stop(null);
  }

  /** The segment or scene that *Take* brings on. */
  next(): NextUp | null {
    return nextUp(this.document, this.state);
  }

  /** @param stop null: what the rundown has next @returns when it holds */
  async prepare(stop: Stop | null, by: CommandSource = 'page'): Promise<void> {
    await this.parts.desk.programme.send([{ type: 'prepare', stop }], by);
  }

  /** Brings a segment on. */
  run(segment: SegmentRecord, by: CommandSource): void {
    this.send(segmentCommands(this.document, this.state, segment), by);
    for (const press of segment.presses)
      void this.press(press, 'rundown').then((problem) => {
        if (problem !== null) this.parts.say(`${segment.name}: ${problem}`);
      });
  }

  /** Brings a scene on air in one of its poses, by its own transition or another one. */
  scene(
    sceneId: string,
    way: 'own' | 'cut' | 'fade' | Transition = 'own',
    poseId: string | null = null,
    by: CommandSource = 'page',
  ): void {
    const { document, state } = this;
    const own = transitionFor(document, state.onAir?.sceneId ?? null, sceneId);
    const seconds = own.type === 'cut' || own.type === 'stinger' ? FADE.seconds : own.seconds;
    const transition =
      typeof way === 'object' ? way : way === 'own' ? null : way === 'cut' ? CUT : { ...FADE, seconds };
    this.send(sceneCommands(document, state, sceneId, poseId, transition), by);
  }

  /**
   * A quick cut or fade to a scene; pressed again by a hand while that is on, back to what was there. A cue or another program
   * that asks for a scene means that scene, however often; two presses in a hurry are one.
   */
  quick(sceneId: string, way: 'cut' | 'fade', by: CommandSource = 'page'): void {
    const { before } = this.#snapshot;
    const { onAir } = this.state;
    const again = onAir?.sceneId === sceneId && BY_HAND.has(by);
    if (again && systemClock.nowMs() - onAir.sinceMs < HURRY_MS) return;
    const back = again && before && before.sceneId !== sceneId ? before : null;
    this.scene(back?.sceneId ?? sceneId, way, back?.poseId ?? null, by);
  }

  /**
   * Draws what is next on air by hand, forth and back; drawn to its end it is taken.
   * @param share 0…1 @returns why it cannot, or null
   */
  draw(share: number, by: CommandSource = 'page'): string | null {
    const { document, state } = this;
    const next = this.#drawing ?? this.next();
    const stop = next && stopOf(next);
    if (!next || !stop || !findRecord(document, 'scene', stop.sceneId))
      return 'Nothing is next that could be drawn.';
    if (stop.sceneId === state.onAir?.sceneId) return 'This scene is on air already.';
    const transition = transitionFor(document, state.onAir?.sceneId ?? null, stop.sceneId);
    if (share < 1) {
      this.#drawing = share <= 0 ? null : next;
      this.send([{ type: 'draw', ...stop, transition, share: Math.max(0, share) }], by);
      return null;
    }
    this.#drawing = null;
    if ('segment' in next) this.run(next.segment, by);
    else this.scene(stop.sceneId, 'own', stop.poseId, by);
    return null;
  }

  /** Goes to a pose: of the scene on air by a glide, of another one by bringing that on. */
  pose(poseId: string, by: CommandSource = 'page'): void {
    const pose = findRecord(this.document, 'pose', poseId);
    if (pose) this.scene(pose.sceneId, 'own', pose.id, by);
  }

  /** @param done false while a hand is still dragging */
  level(channel: ChannelRecord, gainDb: number, done = true, seconds = 0, by: CommandSource = 'page'): void {
    const { store } = this.parts;
    const to = Math.min(FADER_MAX_DB, Math.max(FADER_MIN_DB, gainDb));
    const nowMs = systemClock.nowMs();
    // However many hands are on it. What the host drags off air is only shown, by this very page.
    const told = !done && (this.onAir || by !== 'page');
    if (told && nowMs - (this.#dragged.get(channel.id) ?? 0) < DRAG_MS) return;
    if (told) this.#dragged.set(channel.id, nowMs);
    if (!this.onAir) {
      this.#asInShow(channel.id);
      if (done) store.edit(`Level of ${channel.name}`, [{ ...channel, gainDb: to }]);
      else store.preview([{ ...channel, gainDb: to }]);
      return;
    }
    this.send(
      [{ type: 'level', channelId: channel.id, gainDb: to, seconds: done ? seconds : DRAG_MS / 1000 }],
      by,
    );
  }

  mute(channel: ChannelRecord, muted: boolean, by: CommandSource = 'page'): void {
    if (this.onAir) return this.send([{ type: 'mute', channelId: channel.id, muted }], by);
    this.#asInShow(channel.id);
    this.parts.store.edit(`${muted ? 'Mute' : 'Unmute'} ${channel.name}`, [{ ...channel, muted }]);
  }

  /** Levels and mutes as they stand now are how the show starts. */
  keepAsStart(): void {
    const channels = changedChannels(this.state, recordsOf(this.document, 'channel'));
    if (channels.length === 0) return;
    this.parts.store.edit('Keep levels as start', channels);
    this.send([{ type: 'asInShow', channelIds: channels.map(({ id }) => id) }], 'page');
  }

  backToStart(by: CommandSource = 'page'): void {
    const channels = changedChannels(this.state, recordsOf(this.document, 'channel'));
    const commands = channels.flatMap(({ id }): ProgrammeCommand[] => {
      const own = findRecord(this.document, 'channel', id)!;
      return [{ type: 'level', channelId: id, gainDb: own.gainDb, seconds: 0.5 }];
    });
    if (channels.length === 0) return;
    this.send([...commands, { type: 'asInShow', channelIds: channels.map(({ id }) => id) }], by);
  }

  title(titleId: string, seconds?: number, by: CommandSource = 'page'): void {
    const title = findRecord(this.document, 'title', titleId);
    if (!title) return;
    const words = titleWords(this.document, title);
    this.send([{ type: 'title', titleId, words, seconds: seconds ?? title.seconds }], by);
  }

  /** The next one of the bank; after the last the first. @returns why there is none, or null */
  nextTitle(by: CommandSource = 'page'): string | null {
    const titles = recordsOf(this.document, 'title');
    if (titles.length === 0) return 'There is no title yet: add one in Plan.';
    const at = titles.findIndex(({ id }) => id === (this.state.title?.titleId ?? null));
    this.#titleAt = ((at >= 0 ? at : this.#titleAt) + 1) % titles.length;
    this.title(titles[this.#titleAt].id, undefined, by);
    return null;
  }

  /** Shows a title when the one that is on has left; at once when none is on. */
  queueTitle(titleId: string, by: CommandSource = 'page'): void {
    if (!this.#titleIsOn && this.#snapshot.titles.length === 0) return this.title(titleId, undefined, by);
    if (this.#snapshot.titles.length < MOST_QUEUED)
      this.#change({ titles: [...this.#snapshot.titles, titleId] });
  }

  /** @param at its place in the queue */
  unqueueTitle(at: number): void {
    this.#change({ titles: this.#snapshot.titles.filter((_, i) => i !== at) });
  }

  /** The one that is on has not left yet. */
  get #titleIsOn(): boolean {
    const { title } = this.state;
    return title !== null && (title.untilMs === null || systemClock.nowMs() < title.untilMs + LEAVES_MS);
  }

  hideTitle(by: CommandSource = 'page'): void {
    this.send([{ type: 'title', titleId: null, words: null, seconds: null }], by);
  }

  /** Takes back the last change of levels, mutes or titles when it is younger than the last edit. @returns whether it did */
  undoProgramme(lastEditMs: number): boolean {
    const last = this.#undo.at(-1);
    if (!last || last.atMs < lastEditMs) return false;
    this.#undo.pop();
    this.#undoing.add(last.commands);
    this.send(last.commands, 'page');
    return true;
  }

  /**
   * Does what a press asks for.
   * @param held of a command that is held: pressed, or let go
   * @returns what went wrong, in words for whoever pressed, or null
   */
  async press(press: Press, by: CommandSource, held = true): Promise<string | null> {
    try {
      return (await this.parts.doPress(this, press, by, held)) ?? null;
    } catch (error) {
      return messageOf(error);
    }
  }

  /** The last thing that was done, to the show or to the programme. */
  undo(): void {
    if (!this.undoProgramme(this.parts.store.lastEditMs)) this.parts.store.undo();
  }

  /** @returns what went wrong, or null */
  async cover(covered: boolean, by: CommandSource): Promise<string | null> {
    const problem = await this.broadcast.cover(covered);
    if (problem !== null) return problem;
    this.send([{ type: 'cover', on: covered }], by);
    return null;
  }

  /** Gives commands of the programme. */
  send(commands: readonly ProgrammeCommand[], by: CommandSource): void {
    if (commands.length > 0) void this.parts.desk.programme.send(commands, by);
  }

  /** Off air a channel is what the show says: what was done to it on air before is over. */
  #asInShow(channelId: string): void {
    const { levels, mutes } = this.state;
    if (channelId in levels || channelId in mutes)
      this.send([{ type: 'asInShow', channelIds: [channelId] }], 'page');
  }

  #entered(entry: ProgrammeEntry, before: ProgrammeState): void {
    const { onAir, poll } = before;
    if (poll && poll.endedMs === null && this.state.poll?.endedMs != null) this.#ended('poll', null, false);
    if (onAir && onAir.sceneId !== this.state.onAir?.sceneId)
      this.#change({ before: { sceneId: onAir.sceneId, poseId: onAir.poseId } });
    if (this.#undoing.has(entry.commands)) return;
    const back = inverseOf(before, entry, (id) => findRecord(this.document, 'channel', id));
    // A drag is taken back as one.
    const last = this.#undo.at(-1);
    const same = last && entry.atMs - last.atMs < 1000 && sameTarget(last.commands, back);
    if (back.length === 0) return;
    if (same) last.atMs = entry.atMs;
    else this.#undo.push({ atMs: entry.atMs, commands: back });
    if (this.#undo.length > MAX_UNDO) this.#undo.shift();
  }

  /** Something that a segment may wait for is over. */
  #ended(what: 'clip' | 'countdown' | 'music' | 'poll', sceneId: string | null, thenNext: boolean): void {
    const { document, state } = this;
    const on = segmentOn(document, state);
    if (on && !state.rundown!.freely && (on.end.type === what || thenNext)) return this.#moveOn(on);
    if (!thenNext || sceneId === null) return;
    const next = sceneAfter(document, sceneId);
    if (next !== null) this.scene(next, 'own', null, 'rundown');
  }

  /** A music list that does not loop has run out. */
  musicEnded(): void {
    this.#ended('music', null, false);
  }

  #moveOn(segment: SegmentRecord): void {
    const key = `${segment.id}/${this.state.rundown?.sinceMs}`;
    if (this.#movedOn === key) return;
    this.#movedOn = key;
    const next = segmentByItself(this.document, segment);
    if (next) this.run(next, 'rundown');
  }

  #look(): void {
    const { document, state } = this;
    const { rundown, poll } = state;
    if (poll && poll.endedMs === null && poll.untilMs !== null && systemClock.nowMs() >= poll.untilMs)
      this.send([{ type: 'poll', pollId: null, seconds: 0 }], 'rundown');
    const [queued, ...later] = this.#snapshot.titles;
    if (queued !== undefined && !this.#titleIsOn && systemClock.nowMs() - this.#dequeuedMs > LEAVES_MS) {
      this.#dequeuedMs = systemClock.nowMs();
      this.#change({ titles: later });
      this.title(queued);
    }
    const segment = segmentOn(document, state);
    if (!segment || !rundown || rundown.freely) return;
    const { end, plannedSeconds } = segment;
    const endMs =
      end.type === 'length'
        ? rundown.sinceMs + plannedSeconds * 1000
        : end.type === 'clock'
          ? clockAfter(end.at, rundown.sinceMs)
          : null;
    if (endMs !== null && systemClock.nowMs() >= endMs) this.#moveOn(segment);
  }

  #change(part: Partial<ControlSnapshot>): void {
    this.#snapshot = { ...this.#snapshot, ...part };
    for (const listener of this.#listeners) listener();
  }
}

const targetOf = (command: ProgrammeCommand): string =>
  `${command.type} ${'channelId' in command ? command.channelId : ''}`;

const sameTarget = (a: readonly ProgrammeCommand[], b: readonly ProgrammeCommand[]): boolean =>
  a.length === b.length && a.every((one, i) => targetOf(one) === targetOf(b[i]) && one.type === 'level');
