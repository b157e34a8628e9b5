/**
 * Draws a moment of a broadcast again: a stage with a clock of its own plays what led to it, unseen and as fast as it can, and
 * shows one picture where it stops. Nothing of it reaches anybody else; the worker is gone afterwards.
 */
import { messageOf } from '../../core/fault';
import type { Replay, ReplayStep } from '../../core/programme/moment';
import type { InputSource } from '../../core/show/records';
import { sleep } from '../../core/time/clock';
import { DrivenClock } from '../../core/time/driven-clock';
import type { FromMoment, ToMoment } from '../../protocol/engine';
import { createSoundMemory } from '../../protocol/shared-sound';
import { systemClock } from '../system-clock';
import { Stage } from '../video/stage';
import { workerScope } from '../worker-scope';

const FPS = 30;
const WINDOW = 'moment';
/** A file that is not open by then is drawn as it would be on air without a picture. */
const OPENING_MS = 8000;
const LOOK_MS = 20;
/** Pictures that are drawn at the end: what was drawn first may have waited for a file. */
const LAST_PICTURES = 3;
/** The end of a clip is the last picture before it. */
const END_SECONDS = 0.1;

const playable = (source: InputSource): boolean => source.type !== 'screen';

class Moment {
  readonly #clock: DrivenClock;
  readonly #stage: Stage;
  readonly #canvas: OffscreenCanvas;
  readonly #sources = new Map<string, InputSource>();

  constructor(readonly order: ToMoment) {
    const { replay, frame, size } = order;
    this.#clock = new DrivenClock(replay.fromMs);
    // What it tells is for a studio that is on air.
    this.#stage = new Stage(this.#clock, { tell: () => undefined, fonts: workerScope.fonts });
    this.#canvas = new OffscreenCanvas(size.width, size.height);
    this.#stage.take({ type: 'size', frames: { [frame]: size }, fps: FPS });
    this.#stage.take({
      ...{ type: 'addView', viewId: WINDOW, windowId: WINDOW, canvas: this.#canvas },
      subject: { type: 'onAir', frame },
    });
    this.#stage.take({ type: 'visible', windowId: WINDOW, visible: false });
  }

  async picture(): Promise<ImageBitmap> {
    const { replay, fonts } = this.order;
    await new Promise<void>((resolve) => {
      this.#stage.onReady = resolve;
      this.#stage.take({ type: 'start', sound: createSoundMemory(), fonts: [...fonts] });
    });
    this.#edit(replay.records, []);
    this.#stage.take({ type: 'commands', id: 0, commands: replay.first, sinceMs: replay.sinceMs });
    await this.#opened();
    for (const step of replay.steps) {
      await this.#playTo(step.atMs);
      this.#take(step);
    }
    await this.#playTo(replay.atMs);
    await this.#opened();
    await this.#setClips(replay.clips);
    this.#stage.take({ type: 'visible', windowId: WINDOW, visible: true });
    for (let i = 0; i < LAST_PICTURES; i++) {
      await this.#playTo(this.#clock.nowMs() + 1000 / FPS);
      await this.#until(() => this.#stage.caughtUp);
    }
    return createImageBitmap(this.#canvas);
  }

  /** One picture after the other: alerts and glides go as they went. */
  async #playTo(atMs: number): Promise<void> {
    while (this.#clock.nowMs() < atMs) {
      const next = Math.max(0.05, this.#stage.waitMs);
      this.#clock.advanceTo(Math.min(atMs, this.#clock.nowMs() + next));
      if (this.#stage.waitMs <= 0) await this.#stage.tick();
    }
  }

  #take(step: ReplayStep): void {
    if (step.type === 'edit') this.#edit(step.put, step.removed);
    else if (step.type === 'commands') this.#stage.take({ type: 'commands', id: 0, commands: step.commands });
    else
      this.#stage.take({
        type: 'audience',
        events: step.events,
        cameMs: step.past ? 0 : this.#clock.nowMs(),
      });
  }

  #edit(put: Replay['records'], removed: string[]): void {
    for (const record of put) if (record.kind === 'input') this.#sources.set(record.id, record.source);
    this.#stage.take({ type: 'document', put, removed });
  }

  /** Until files are open; time stands still meanwhile. */
  #opened(): Promise<void> {
    return this.#until(() =>
      this.#stage.inputs.every(({ inputId, state }) => {
        const source = this.#sources.get(inputId);
        return state !== 'waiting' || !source || !playable(source);
      }),
    );
  }

  async #until(is: () => boolean): Promise<void> {
    for (let waited = 0; !is() && waited < OPENING_MS; waited += LOOK_MS) await sleep(systemClock, LOOK_MS);
  }

  /** Clips are not played through: they stand where they were. */
  async #setClips(clips: Replay['clips']): Promise<void> {
    const played = (id: string) => this.#stage.inputs.find(({ inputId }) => inputId === id)?.played ?? null;
    const there = clips.filter(({ inputId }) => played(inputId) !== null);
    await this.#until(() => there.every(({ inputId }) => played(inputId)?.length != null));
    for (const { inputId, seconds } of there) {
      const source = this.#sources.get(inputId);
      const length = played(inputId)?.length ?? 0;
      const loops = source?.type === 'clips' && source.atEnd === 'loop' && length > 0;
      const toSeconds = loops ? seconds % length : Math.max(0, Math.min(seconds, length - END_SECONDS));
      this.#stage.take({ type: 'clips', inputId, order: { do: 'pause' } });
      this.#stage.take({ type: 'clips', inputId, order: { do: 'jump', toSeconds } });
    }
    await this.#until(() => this.#stage.caughtUp);
  }
}

workerScope.onmessage = ({ data }: MessageEvent<ToMoment>) => {
  new Moment(data).picture().then(
    (picture) => workerScope.postMessage({ picture } satisfies FromMoment, [picture]),
    (error: unknown) => workerScope.postMessage({ problem: messageOf(error) } satisfies FromMoment),
  );
};
