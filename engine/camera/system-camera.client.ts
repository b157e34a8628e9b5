import { within } from '../../core/geometry/rect';
import type { FrameName } from '../../core/show/records';
import type { CameraPlace, CameraState } from '../../protocol/camera';
import type { ToCamera } from '../../protocol/engine';
import { encodePlan } from '../encode/encode-plans';

/** What calls show is not larger; of the longer side. */
const LONG_SIDE = 1280;
/** At that size; smaller ones need less. */
const KBPS = 6000;

export type OfferedCamera = { place: CameraPlace; frame: FrameName } & (CameraState | { state: 'starting' });

/** A frame offered as a camera of the system the server runs on: one at a time. */
export class SystemCamera {
  now: OfferedCamera | null = null;
  #worker: Worker | null = null;
  readonly #listeners = new Set<() => void>();

  /** @param tap the pictures of a frame, as many as are asked for */
  constructor(readonly tap: (frame: FrameName) => MessagePort) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): OfferedCamera | null => this.now;

  /** @param size of the frame as the show has it @param fps of the plan */
  async start(
    place: CameraPlace,
    frame: FrameName,
    size: { width: number; height: number },
    fps: number,
  ): Promise<void> {
    this.stop();
    this.#set({ place, frame, state: 'starting' });
    const { width, height } = within(size, LONG_SIDE);
    const format = { placeId: place.id, width, height, fps };
    const kbps = Math.round(KBPS * ((width * height) / (1280 * 720)));
    const plan = await encodePlan({
      ...{ width, height, fps, kbps, encoder: 'any', effort: 'quick', keyframeSeconds: 1 },
    });
    // Ended, or begun otherwise, while the browser was asked.
    if (this.now?.place !== place || this.now.state !== 'starting') return;
    if (plan === null)
      return this.#set({ place, frame, state: 'failed', message: 'This browser cannot encode that size.' });
    const worker = new Worker(new URL('./camera.worker.ts', import.meta.url), {
      type: 'module',
      name: 'camera',
    });
    this.#worker = worker;
    worker.onmessage = ({ data }: MessageEvent<CameraState | { state: 'ended' }>) => {
      if (data.state === 'ended') worker.terminate();
      else if (this.#worker === worker) this.#set({ place, frame, ...data });
    };
    const pictures = this.tap(frame);
    const url = `${location.origin.replace(/^http/, 'ws')}/camera`;
    const { codec, colour } = plan;
    worker.postMessage({ url, pictures, format, kbps, codec, colour } satisfies ToCamera, [pictures]);
  }

  stop(): void {
    // It lets the stage go first.
    this.#worker?.postMessage(null);
    this.#worker = null;
    if (this.now) this.#set(null);
  }

  #set(now: OfferedCamera | null): void {
    this.now = now;
    for (const listener of this.#listeners) listener();
  }
}
