/** What of the programme's commands is seen: the scene on air, its pose, and the way there. */
import { drawnTo, glideTo, settled, showEdits, takeScene, type OnAir } from '../../core/motion/programme';
import type { ProgrammeCommand } from '../../core/programme/commands';
import type { ShowDocument } from '../../core/show/document';
import { recordsOfPicture, withHeld, type HeldRecords } from '../../core/show/held';
import { FADE } from '../../core/show/motion-records';
import { STINGER_LEAD_SECONDS, type FromStage } from '../../protocol/engine';
import type { LiveAudience } from './live-audience';
import type { Stingers } from './stingers';

export class OnAirScenes {
  now: OnAir | null = null;
  /** Scenes that are edited unseen, as viewers see them; the one on air, and those that leave. */
  readonly #held = new Map<string, HeldRecords>();
  #holds = false;
  /** Counts up whenever viewers see other scenes held than before. */
  heldVersion = 0;

  constructor(
    readonly stingers: Stingers,
    readonly audience: LiveAudience,
    readonly tell: (message: FromStage) => void,
  ) {}

  /**
   * @param at programme seconds of the picture from which on it holds
   * @param before of the picture before it: movements begin there, so that this one is on its way already
   * @param sinceMs what is taken has been on air since then
   * @returns whether the picture changes at once, as a cut does
   */
  obey(
    command: ProgrammeCommand,
    at: number,
    before: number,
    document: ShowDocument,
    sinceMs?: number,
  ): boolean {
    if (command.type === 'hold') this.#hold(command.on, before, document);
    else if (command.type === 'glide') {
      if (this.now?.sceneId !== command.sceneId) return false;
      this.now = glideTo(this.now, command.poseId, before, document);
      this.audience.setPose(command.poseId);
    } else if (command.type === 'draw') {
      const { sceneId, poseId, transition, share } = command;
      this.now = drawnTo(this.now, { sceneId, poseId }, transition, share, before, document);
    } else if (command.type === 'title') this.audience.setTitle(command.words, at, command.seconds);
    else if (command.type === 'take') {
      this.#take(command, at, before, document);
      this.audience.setPose(command.poseId);
      this.audience.setOnAir(command.sceneId, at, sinceMs);
      return this.now?.from === null;
    }
    return false;
  }

  get holding(): boolean {
    return this.#held.size > 0;
  }

  /** Whether viewers see this scene otherwise than it is by now. */
  holds(sceneId: string | undefined): boolean {
    return sceneId !== undefined && this.#held.has(sceneId);
  }

  /** The show as viewers see it. */
  seen(document: ShowDocument): ShowDocument {
    return withHeld(document, this.#held);
  }

  #hold(on: boolean, before: number, document: ShowDocument): void {
    const { now } = this;
    this.#holds = on;
    if (now && this.#held.has(now.sceneId)) this.now = showEdits(now, this.seen(document), before);
    this.#held.clear();
    this.heldVersion += 1;
    this.#holdNow(document);
  }

  #holdNow(document: ShowDocument): void {
    const sceneId = this.now?.sceneId;
    if (!this.#holds || sceneId === undefined || this.#held.has(sceneId)) return;
    this.#held.set(sceneId, recordsOfPicture(document, sceneId));
    this.heldVersion += 1;
  }

  /** What has left is not held any longer: it comes on again as it was edited. */
  #letGo(): void {
    const scenes = this.scenes();
    for (const id of this.#held.keys())
      if (!scenes.includes(id)) {
        this.#held.delete(id);
        this.heldVersion += 1;
      }
  }

  /** The scene on air, and those that are leaving. */
  scenes(): string[] {
    const ids: string[] = [];
    for (let at: OnAir | undefined = this.now ?? undefined; at; at = at.from?.before) ids.push(at.sceneId);
    return ids;
  }

  /** Forgets passages that are over. @returns whether a scene has left */
  settle(seconds: number, document: ShowDocument): boolean {
    if (!this.now?.from) return false;
    const before = this.scenes().length;
    this.now = settled(this.now, seconds, document);
    this.#letGo();
    return this.scenes().length !== before;
  }

  #take(
    command: Extract<ProgrammeCommand, { type: 'take' }>,
    at: number,
    before: number,
    document: ShowDocument,
  ): void {
    const { sceneId, poseId, transition } = command;
    let way = transition;
    let begins = before;
    if (transition.type === 'stinger' && transition.stinger) {
      const { assetId, name } = transition.stinger;
      const problem = this.stingers.begin(assetId, at);
      if (problem === null) begins = at + STINGER_LEAD_SECONDS;
      else {
        // The scene comes all the same.
        way = FADE;
        this.tell({ type: 'failed', message: `The stinger "${name}" was left out: ${problem}` });
      }
    }
    const drawn = this.now?.from?.hand !== undefined && this.now.sceneId === sceneId;
    // What a hand has drawn to its end is there already.
    this.now = drawn
      ? { sceneId, poseId, from: null }
      : takeScene(this.now, { sceneId, poseId }, way, begins, document);
    this.#letGo();
    this.#holdNow(document);
  }
}
