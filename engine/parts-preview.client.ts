/**
 * Scenes that are in no show yet, played through with made-up viewers: a stage of its own, small and seldom, of which
 * nothing reaches the programme, its sound or what goes out.
 */
import { exampleEvent } from '../core/audience/alert-rules';
import { PLAIN_EVENT, type ViewerEvent } from '../core/audience/events';
import { madeUpEvent, MADE_UP_AT_ONCE, MADE_UP_VIEWERS } from '../core/audience/made-up';
import { transitionFor } from '../core/motion/programme';
import { changesBetween, recordsOf, type ShowDocument } from '../core/show/document';
import type { AlertRuleRecord } from '../core/show/audience-records';
import type { FrameName, SceneRecord } from '../core/show/records';
import type { Cancel } from '../core/time/clock';
import type { FromStage, ToStage } from '../protocol/engine';
import { createSoundMemory } from '../protocol/shared-sound';
import type { LiveCanvas } from './live-canvas';
import { systemClock } from './system-clock';

/** Enough to see how something moves. */
const FPS = 20;
const LONG_SIDE_PX = 480;
/** A scene is seen for so long, and in the middle of it somebody does something. */
const SCENE_MS = 6000;
const ALERT_MS = 2000;

export interface PreviewNow {
  sceneId: string | null;
  playing: boolean;
}

export class PartsPreview {
  readonly #stage = new Worker(new URL('./video/stage.worker.ts', import.meta.url), {
    type: 'module',
    name: 'preview',
  });
  #document: ShowDocument = new Map();
  #now: PreviewNow = { sceneId: null, playing: false };
  #steps: Cancel[] = [];
  #nextView = 1;
  #nextCommand = 1;
  #seq = 0;
  #rule = 0;
  readonly #listeners = new Set<() => void>();

  /** @param onFault what cannot be shown, in words */
  constructor(
    fonts: { family: string; url: string }[],
    readonly onFault: (message: string) => void,
  ) {
    this.#stage.onmessage = ({ data }: MessageEvent<FromStage>) => {
      if (data.type === 'failed') this.onFault(data.message);
    };
    this.#say({ type: 'start', sound: createSoundMemory(), fonts });
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): PreviewNow => this.#now;

  /** Shows these; the first scene is there at once, and what is seen already stays when it is only recoloured. */
  setDocument(document: ShowDocument): void {
    const first = this.#document.size === 0;
    const { put, removed } = changesBetween(this.#document, document);
    this.#document = document;
    if (first) {
      const [{ frames }] = recordsOf(document, 'show');
      const sized = ({ width, height }: { width: number; height: number }) => {
        const scale = LONG_SIDE_PX / Math.max(width, height);
        return { width: Math.round(width * scale), height: Math.round(height * scale) };
      };
      this.#say({
        type: 'size',
        frames: { wide: sized(frames.wide), tall: sized(frames.tall) },
        fps: FPS,
      });
    }
    this.#say({ type: 'document', put, removed });
    if (first) this.#invite();
    const { sceneId } = this.#now;
    if (sceneId === null || !document.has(sceneId)) this.take(this.#scenes[0]?.id ?? null);
  }

  /** Brings a scene on, by its own transition. */
  take(sceneId: string | null): void {
    const before = this.#now.sceneId;
    this.#change({ sceneId });
    if (sceneId === null) return;
    const transition = transitionFor(this.#document, before, sceneId);
    this.#say({
      type: 'commands',
      id: this.#nextCommand++,
      commands: [{ type: 'take', sceneId, poseId: null, transition }],
    });
  }

  /** Plays one scene after the other, an alert in each; or stays with the one that is seen. */
  play(on: boolean): void {
    for (const end of this.#steps) end();
    this.#steps = [];
    this.#change({ playing: on });
    if (!on) return;
    const alert = () => {
      this.#steps.push(systemClock.after(ALERT_MS, () => this.#doSomething()));
    };
    alert();
    this.#steps.push(
      systemClock.every(SCENE_MS, () => {
        const scenes = this.#scenes;
        const at = scenes.findIndex(({ id }) => id === this.#now.sceneId);
        const next = scenes[(at + 1) % Math.max(1, scenes.length)];
        if (next && next.id !== this.#now.sceneId) this.take(next.id);
        alert();
      }),
    );
  }

  addView(canvas: HTMLCanvasElement, frame: FrameName, width: number, height: number): LiveCanvas {
    const viewId = String(this.#nextView++);
    canvas.width = width;
    canvas.height = height;
    const offscreen = canvas.transferControlToOffscreen();
    const subject = { type: 'onAir', frame } as const;
    this.#say({ type: 'addView', viewId, canvas: offscreen, subject, windowId: 'preview' }, [offscreen]);
    return {
      resize: (w, h) => this.#say({ type: 'sizeView', viewId, width: w, height: h }),
      setPart: (part) => this.#say({ type: 'partView', viewId, part }),
      see: (seen) => this.#say({ type: 'seeView', viewId, seen }),
      remove: () => this.#say({ type: 'removeView', viewId }),
    };
  }

  close(): void {
    this.play(false);
    this.#stage.terminate();
  }

  get #scenes(): readonly SceneRecord[] {
    return recordsOf(this.#document, 'scene');
  }

  #change(change: Partial<PreviewNow>): void {
    this.#now = { ...this.#now, ...change };
    for (const listener of this.#listeners) listener();
  }

  /** People are there already: lists and panels are not empty. Long ago, so that nothing of it sets off an alert. */
  #invite(): void {
    this.#say({ type: 'viewers', platform: 'made up', viewers: MADE_UP_VIEWERS });
    const events = Array.from({ length: MADE_UP_AT_ONCE }, (_, n) =>
      madeUpEvent(n, systemClock.dateMs(), ++this.#seq),
    );
    this.#say({ type: 'audience', events, cameMs: 0 });
  }

  /** What sets off the next of the alerts; where there are none, somebody says something. */
  #doSomething(): void {
    const rules = recordsOf(this.#document, 'alertRule');
    const now = systemClock.dateMs();
    const event =
      rules.length === 0
        ? madeUpEvent(this.#seq * 3 + 1, now, ++this.#seq)
        : this.#setsOff(rules[this.#rule++ % rules.length], now);
    this.#say({ type: 'audience', events: [event], cameMs: systemClock.nowMs() });
  }

  #setsOff(rule: AlertRuleRecord, now: number): ViewerEvent {
    const { currency } = recordsOf(this.#document, 'show')[0].audience;
    const seq = ++this.#seq;
    return {
      ...PLAIN_EVENT,
      ...exampleEvent(rule, currency),
      ...{ type: rule.event, viewer: 'mossbell', platform: 'test' },
      ...{ id: `preview-${seq}`, seq, atMs: now },
    };
  }

  #say(message: ToStage, transfer: Transferable[] = []): void {
    this.#stage.postMessage(message, transfer);
  }
}
