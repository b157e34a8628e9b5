import type { AudienceEvent } from '../core/audience/events';
import { dbOfAmplitude } from '../core/sound/decibel';
import { recordsOf, type ShowDocument } from '../core/show/document';
import type { PlanRecord, Transition } from '../core/show/records';
import type { DeskHealth } from '../protocol/relay-orders';
import type {
  EncodePlan,
  FromSoundEncoder,
  FromStage,
  FromUplink,
  InputState,
  StageReport,
  ToSoundEncoder,
  ToStage,
  ToUplink,
  UplinkReport,
  ViewSubject,
} from '../protocol/engine';
import { createSoundMemory, type ProgrammeReading, type StripReading } from '../protocol/shared-sound';
import { SoundDesk, type SoundState } from './audio/sound-desk';
import { chooseCodec } from './capabilities';
import { CaptureDevices } from './inputs/capture-devices';

export interface DeskSnapshot {
  stage: StageReport | null;
  inputs: readonly InputState[];
  uplink: UplinkReport | null;
  sound: { state: SoundState; message: string; problems: ReadonlyMap<string, string> };
  onAirSceneId: string | null;
  /** What went wrong in the engine, newest last; for the user. */
  faults: readonly string[];
  live: boolean;
}

const MAX_FAULTS = 5;

/** The engine of the studio page: owns the workers, the sound thread and the devices. Knows nothing of React. */
export class Desk {
  readonly #stage = new Worker(new URL('./video/stage.worker.ts', import.meta.url), {
    type: 'module',
    name: 'stage',
  });
  /** Made at the first broadcast: the sound encoder alone is as large as the rest of the studio. */
  #sending: { uplink: Worker; soundEncoder: Worker } | null = null;
  readonly #memory = createSoundMemory();
  readonly #sound: SoundDesk;
  readonly #devices: CaptureDevices;
  readonly #listeners = new Set<() => void>();
  #document: ShowDocument = new Map();
  #snapshot: DeskSnapshot;
  #session: string | null = null;
  #nextView = 1;
  readonly #source = crypto.randomUUID();
  readonly #onVisibility = () =>
    this.#say({ type: 'visible', visible: document.visibilityState === 'visible' });

  constructor(fonts: { family: string; url: string }[]) {
    this.#sound = new SoundDesk(
      this.#memory,
      (inputId, ring) => this.#say({ type: 'fileSound', inputId, ring }),
      () =>
        this.#change({
          sound: {
            state: this.#sound.state,
            message: this.#sound.message,
            problems: new Map(this.#sound.problems),
          },
        }),
    );
    this.#snapshot = {
      stage: null,
      inputs: [],
      uplink: null,
      sound: { state: 'starting', message: '', problems: new Map() },
      onAirSceneId: null,
      faults: [],
      live: false,
    };
    this.#devices = new CaptureDevices(
      (inputId, frames) => this.#say({ type: 'track', inputId, frames }, [frames as unknown as Transferable]),
      (inputId, problem) => this.#say({ type: 'inputProblem', inputId, problem }),
      (inputId, stream) => this.#sound.setInputStream(inputId, stream),
    );
    this.#stage.onmessage = ({ data }: MessageEvent<FromStage>) => this.#fromStage(data);
    this.#stage.onerror = (event) =>
      this.#fault(`The stage could not run: ${event.message}. Reload the studio.`);
    document.addEventListener('visibilitychange', this.#onVisibility);
    this.#say({ type: 'start', sound: this.#memory, fonts });
    void this.#sound.start();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): DeskSnapshot => this.#snapshot;

  setDocument(document: ShowDocument): void {
    this.#document = document;
    this.#say({ type: 'document', records: [...document.values()] });
    this.#sound.setDocument(document);
    this.#devices.setDocument(document);
    if (!this.#snapshot.live) {
      const plan = this.#plan();
      if (plan) this.#say({ type: 'size', width: plan.width, height: plan.height, fps: plan.fps });
    }
  }

  take(sceneId: string, transition: Transition): void {
    this.#say({ type: 'take', sceneId, transition });
    this.#sound.setOnAir(sceneId);
    this.#change({ onAirSceneId: sceneId });
  }

  edit(sceneId: string): void {
    this.#say({ type: 'edit', sceneId });
  }

  audience(events: AudienceEvent[]): void {
    this.#say({ type: 'audience', events });
  }

  /** Shows something live in a canvas; the canvas belongs to the stage from then on. */
  addView(
    canvas: HTMLCanvasElement,
    subject: ViewSubject,
    width: number,
    height: number,
  ): { resize(width: number, height: number): void; remove(): void } {
    const viewId = String(this.#nextView++);
    canvas.width = width;
    canvas.height = height;
    const offscreen = canvas.transferControlToOffscreen();
    this.#say({ type: 'addView', viewId, canvas: offscreen, subject }, [offscreen]);
    return {
      resize: (w, h) => this.#say({ type: 'sizeView', viewId, width: w, height: h }),
      remove: () => this.#say({ type: 'removeView', viewId }),
    };
  }

  useScreen(inputId: string, stream: MediaStream): void {
    this.#devices.useScreen(inputId, stream);
  }

  retryDevices(): void {
    this.#devices.retry();
  }

  readMeter(channelId: string): StripReading | null {
    const strip = this.#sound.stripOf(channelId);
    return strip === null ? null : this.#sound.meters.readStrip(strip);
  }

  readProgramme(): ProgrammeReading {
    return this.#sound.meters.readProgramme();
  }

  /**
   * Starts encoding and sending.
   * @throws Error with words for the user when this browser or plan cannot do it
   */
  async goLive(session: { uplinkUrl: string; sessionId: string; ticket: string }): Promise<void> {
    if (this.#session === session.sessionId) return;
    const plan = this.#plan();
    if (!plan) throw new Error('There is no delivery plan: add one in Delivery.');
    await this.#sound.resume();
    if (this.#sound.state === 'failed') throw new Error(this.#sound.message);
    const wanted: Omit<EncodePlan, 'codec'> = {
      width: plan.width,
      height: plan.height,
      fps: plan.fps,
      kbps: plan.videoKbps,
      keyframeSeconds: plan.keyframeSeconds,
    };
    const codec = await chooseCodec(wanted);
    if (!codec)
      throw new Error(
        `This browser cannot encode ${plan.width} × ${plan.height} at ${plan.fps} in H.264: choose a smaller size in Delivery, or use Chromium, Chrome or Edge.`,
      );
    this.#session = session.sessionId;
    const pictures = new MessageChannel();
    const sound = new MessageChannel();
    this.#sayUplink({ type: 'start', ports: [pictures.port2, sound.port2] }, [pictures.port2, sound.port2]);
    this.#sayUplink({
      type: 'session',
      url: session.uplinkUrl,
      sessionId: session.sessionId,
      ticket: session.ticket,
      source: this.#source + session.sessionId,
    });
    this.#sound.resetProgramme();
    const start: ToSoundEncoder = {
      type: 'start',
      sound: this.#memory,
      kbps: plan.audioKbps,
      port: sound.port1,
    };
    this.#senders().soundEncoder.postMessage(start, [sound.port1]);
    this.#say({ type: 'encode', plan: { ...wanted, codec }, port: pictures.port1 }, [pictures.port1]);
    this.#change({ live: true });
  }

  endLive(): void {
    if (this.#session === null) return;
    this.#session = null;
    this.#say({ type: 'stopEncode' });
    this.#sending?.soundEncoder.postMessage({ type: 'stop' } satisfies ToSoundEncoder);
    this.#sayUplink({ type: 'stop' });
    const plan = this.#plan();
    if (plan) this.#say({ type: 'size', width: plan.width, height: plan.height, fps: plan.fps });
    this.#change({ live: false });
  }

  /** What the server is told once a second. */
  health(): DeskHealth {
    const { stage, uplink, onAirSceneId } = this.#snapshot;
    const { momentaryLufs, integratedLufs, truePeak } = this.readProgramme();
    const finite = (value: number) => (Number.isFinite(value) ? value : null);
    const encoding = stage?.encoding ?? null;
    return {
      onAirSceneId,
      fps: stage?.fps ?? 0,
      due: stage?.due ?? 0,
      composed: stage?.composed ?? 0,
      late: stage?.late ?? 0,
      skipped: (stage?.skipped ?? 0) + (stage?.encoderBusy ?? 0),
      leftOut: stage?.leftOut ?? 0,
      lineDropped: stage?.lineDropped ?? 0,
      composeMs: stage?.composeMs ?? 0,
      programmeEpochMs: stage?.programmeEpochMs ?? 0,
      clockSlips: stage?.clockSlips ?? 0,
      lufs: finite(momentaryLufs),
      integratedLufs: finite(integratedLufs),
      truePeakDbtp: finite(dbOfAmplitude(truePeak)),
      kbps: uplink?.kbps ?? 0,
      unackedMs: uplink?.unackedMs ?? 0,
      encoder: encoding && { codec: encoding.codec, width: encoding.width, height: encoding.height },
      governor: encoding?.governor ?? null,
    };
  }

  close(): void {
    document.removeEventListener('visibilitychange', this.#onVisibility);
    this.#stage.terminate();
    this.#sending?.uplink.terminate();
    this.#sending?.soundEncoder.terminate();
    this.#devices.close();
    void this.#sound.close();
    this.#listeners.clear();
  }

  #senders(): { uplink: Worker; soundEncoder: Worker } {
    if (this.#sending) return this.#sending;
    const uplink = new Worker(new URL('./encode/uplink.worker.ts', import.meta.url), {
      type: 'module',
      name: 'uplink',
    });
    const soundEncoder = new Worker(new URL('./encode/sound-encoder.worker.ts', import.meta.url), {
      type: 'module',
      name: 'sound-encoder',
    });
    uplink.onmessage = ({ data }: MessageEvent<FromUplink>) => this.#change({ uplink: data.report });
    soundEncoder.onmessage = ({ data }: MessageEvent<FromSoundEncoder>) =>
      this.#fault(
        data.type === 'failed'
          ? data.message
          : `The computer was too busy: ${Math.round((data.blocks * 128) / 48)} ms of sound were lost.`,
      );
    this.#sending = { uplink, soundEncoder };
    return this.#sending;
  }

  #plan(): PlanRecord | null {
    return recordsOf(this.#document, 'plan')[0] ?? null;
  }

  #say(message: ToStage, transfer: Transferable[] = []): void {
    this.#stage.postMessage(message, transfer);
  }

  #sayUplink(message: ToUplink, transfer: Transferable[] = []): void {
    this.#senders().uplink.postMessage(message, transfer);
  }

  #fromStage(message: FromStage): void {
    if (message.type === 'report') this.#change({ stage: message.report });
    else if (message.type === 'inputs') this.#change({ inputs: message.inputs });
    else this.#fault(message.message);
  }

  #fault(text: string): void {
    if (this.#snapshot.faults.at(-1) === text) return;
    this.#change({ faults: [...this.#snapshot.faults, text].slice(-MAX_FAULTS) });
  }

  #change(part: Partial<DeskSnapshot>): void {
    this.#snapshot = { ...this.#snapshot, ...part };
    for (const listener of this.#listeners) listener();
  }
}
