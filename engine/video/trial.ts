/** What is tried in the editor before viewers see it: a glide, an entrance, a transition, a stinger. */
import type { Size } from '../../core/geometry/rect';
import { passageSeconds, takeScene, type OnAir, type Stop } from '../../core/motion/programme';
import type { ShowDocument } from '../../core/show/document';
import type { FrameName } from '../../core/show/records';
import { STINGER_LEAD_SECONDS, type ToStage } from '../../protocol/engine';
import { Compositor, type LiveState } from './compositor';
import { FrameOutput } from './frame-output';
import { Stingers } from './stingers';

/** What it ends in stands for a moment before the editor is back. */
const REST_SECONDS = 0.5;
/** A stinger whose clip is not there by then is left out. */
const LOAD_SECONDS = 4;

type Order = Extract<ToStage, { type: 'tryOut' }>;

export class Trial {
  /** Of its own: what is tried must not touch what is on air. */
  readonly #stingers = new Stingers();
  readonly #compositor: Compositor;
  readonly #outputs = new Map<FrameName, FrameOutput>();
  #waiting: { order: Order; sinceSeconds: number } | null = null;
  #document: ShowDocument | null = null;
  #now: OnAir | null = null;
  #untilSeconds = 0;
  #seconds = 0;

  constructor(
    live: Omit<LiveState, 'stingers'>,
    readonly failed: (message: string) => void,
  ) {
    this.#compositor = new Compositor({ ...live, stingers: this.#stingers });
  }

  get running(): boolean {
    return this.#now !== null || this.#waiting !== null;
  }

  /** Scenes that are seen in it. */
  scenes(): string[] {
    const order = this.#waiting?.order;
    if (order) return [order.from.sceneId, order.to.sceneId];
    return this.#now ? [this.#now.sceneId, ...(this.#now.from ? [this.#now.from.before.sceneId] : [])] : [];
  }

  begin(order: Order, seconds: number): void {
    this.#now = null;
    this.#waiting = { order, sinceSeconds: seconds };
    const { transition } = order;
    const stinger = transition?.type === 'stinger' ? transition.stinger : null;
    this.#stingers.setWanted(new Map(stinger ? [[stinger.assetId, stinger]] : []));
  }

  end(): void {
    this.#now = null;
    this.#waiting = null;
    this.#stingers.setWanted(new Map());
    this.#outputs.clear();
  }

  /** To be called for each picture, before it is drawn. @returns whether it has just ended */
  advance(document: ShowDocument, fields: Record<string, string>, seconds: number): boolean {
    this.#seconds = seconds;
    if (!this.running) return false;
    if (document !== this.#document) this.#compositor.setDocument(document);
    this.#document = document;
    this.#compositor.setLiveFields(fields);
    this.#stingers.advance(seconds);
    if (this.#waiting) this.#start(this.#waiting, document, seconds);
    if (!this.#now || seconds < this.#untilSeconds) return false;
    this.end();
    return true;
  }

  /** How it looks now in one frame; null when nothing is tried. @param size as large as it is looked at */
  canvasOf(frame: FrameName, size: Size): OffscreenCanvas | null {
    if (!this.#now) return null;
    let output = this.#outputs.get(frame);
    if (!output) this.#outputs.set(frame, (output = new FrameOutput(frame, size, this.#compositor)));
    output.resize(size);
    output.compose(this.#now, this.#seconds);
    return output.canvas;
  }

  #start(
    { order, sinceSeconds }: { order: Order; sinceSeconds: number },
    document: ShowDocument,
    seconds: number,
  ) {
    const { from, to, transition, onlyLayer } = order;
    let startedAt = seconds;
    if (transition?.type === 'stinger' && transition.stinger) {
      const problem = this.#stingers.begin(transition.stinger.assetId, seconds);
      if (problem !== null && seconds - sinceSeconds < LOAD_SECONDS) return;
      if (problem !== null) {
        this.failed(`The stinger “${transition.stinger.name}” cannot be tried: ${problem}`);
        return this.end();
      }
      startedAt += STINGER_LEAD_SECONDS;
    }
    this.#waiting = null;
    this.#now = passage(document, from, to, transition, onlyLayer, startedAt);
    this.#untilSeconds = startedAt + passageSeconds(this.#now, document) + REST_SECONDS;
  }
}

function passage(
  document: ShowDocument,
  from: Stop,
  to: Stop,
  transition: Order['transition'],
  only: Order['onlyLayer'],
  startedAt: number,
): OnAir {
  const before: OnAir = { ...from, from: null };
  if (transition) return takeScene(before, to, transition, startedAt, document);
  if (only === null) return { ...to, from: { before, startedAt, transition: null } };
  const bare = new Map(document);
  bare.delete(only.id);
  return only.leaves
    ? { ...to, as: bare, from: { before: { ...before, as: document }, startedAt, transition: null } }
    : { ...to, from: { before: { ...before, as: bare }, startedAt, transition: null } };
}
