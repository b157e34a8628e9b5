import equal from 'fast-deep-equal';
import { dbOfAmplitude } from '../core/sound/decibel';
import { within, type Size } from '../core/geometry/rect';
import { changesBetween, recordsOf, type ShowDocument } from '../core/show/document';
import { seatsOf } from '../core/guests/seats';
import { inputsNeeded } from '../core/show/inputs-shown';
import type { Encode, EncodeId } from '../core/delivery/encodes';
import { planInUse } from '../core/delivery/live-plan';
import { encodeDiffers, type Encoding } from '../core/delivery/plan-steps';
import {
  FRAME_NAMES,
  type AnyRecord,
  type RecordKind,
  type FrameName,
  type LayerRecord,
  type PlanRecord,
} from '../core/show/records';
import { ScenePictures } from './scene-pictures';
import { PictureSamples } from './picture-samples';
import { tracksInUse } from '../core/show/tracks';
import type { Stop } from '../core/motion/programme';
import { NO_PROGRAMME, pictureSeconds, type ProgrammeState } from '../core/programme/programme-state';
import type { ProgrammeCommand } from '../core/programme/commands';
import { ProgrammeDesk } from './programme-desk';
import type { DeskHealth } from '../protocol/relay-orders';
import type {
  ClipsOrder,
  EncodePlan,
  FromSoundEncoder,
  FromStage,
  FromUplink,
  InputState,
  KeptAlerts,
  ToLiveAudience,
  StageReport,
  ToSoundEncoder,
  ToStage,
  ToUplink,
  UplinkReport,
  ViewSubject,
} from '../protocol/engine';
import {
  createSoundMemory,
  Probe,
  type ProcessorReading,
  type ProgrammeReading,
  type StripReading,
} from '../protocol/shared-sound';
import type { EchoFinding } from '../core/sound/analysis/echo-finder';
import { Listener } from './audio/listener';
import { DeskGuests } from './guests/desk-guests';
import type { GuestLink } from './guests/room-engine';
import type { LiveCanvas } from './live-canvas';
import { systemClock } from './system-clock';
import type { MusicNow } from './audio/music-players';
import { SoundDesk, type SoundState } from './audio/sound-desk';
import type { SoundSwitches } from './audio/strip-orders';
import { encodePlans } from './encode/encode-plans';
import { CaptureDevices, type CameraFacts } from './inputs/capture-devices';

export interface DeskSnapshot {
  stage: StageReport | null;
  inputs: readonly InputState[];
  uplink: UplinkReport | null;
  sound: {
    state: SoundState;
    message: string;
    /** By id of a channel or an effect. */
    problems: ReadonlyMap<string, string>;
    /** What each music channel plays. */
    music: ReadonlyMap<string, MusicNow>;
    switches: SoundSwitches;
    noiseProblem: string;
    monitorProblem: string | null;
    windowsProblem: string | null;
  };
  /** The programme coming back in a microphone. */
  echo: (EchoFinding & { channelId: string }) | null;
  /** How the programme stands; the two after it are what of it is asked for most. */
  programme: ProgrammeState;
  onAirSceneId: string | null;
  /** Of the scene on air; null for its first one. */
  onAirPoseId: string | null;
  /** What went wrong in the engine, newest last; for the user. */
  faults: readonly string[];
  live: boolean;
  /** What is encoded, and how; empty off air. */
  encodes: ReadonlyMap<EncodeId, EncodePlan>;
  /** How the connection with each guest does, by their id. */
  guests: ReadonlyMap<string, GuestLink>;
}

const MAX_FAULTS = 5;
/** What neither sound nor devices look at. */
const RUNDOWN_KINDS: ReadonlySet<RecordKind> = new Set(['rundown', 'segment', 'cue', 'padPage', 'control']);
/** The page's own window, among those that it opens. */
const DESK_WINDOW = 'desk';
/** Of a show without a plan. */
const USUAL_FPS = 30;

/** Of the longer side of a frame that the plan does not send. */
const UNPLANNED_SIDE = 1280;

/** The engine of the studio page: owns the workers, the sound thread and the devices. Knows nothing of React. */
export class Desk {
  readonly samples = new PictureSamples((message) => this.#say(message));
  /** Small pictures of scenes. */
  readonly scenePictures = new ScenePictures((message) => this.#say(message));
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
  #editSceneId: string | null = null;
  #musicEndsAtMs: number | null = null;
  #session: string | null = null;
  readonly #told = new Map<string, LayerRecord>();
  /** Clips have run out; `thenNext`: they are to bring on the next scene. */
  onClipsEnded: (inputId: string, thenNext: boolean) => void = () => {};
  /** The stage has shown, or keeps waiting, other alerts than before. */
  onAlertsKept: (kept: KeptAlerts) => void = () => {};
  /** A countdown of a scene is at zero; `thenNext`: it is to bring on the next scene. */
  onCountdownEnded: (sceneId: string, thenNext: boolean) => void = () => {};
  /** A music list that does not loop has run out. */
  onMusicEnded: (channelId: string) => void = () => {};
  /** Samples for drawings. */
  readonly probe: Probe;
  /** Soundcheck, matching, takes and the echo finder. */
  readonly listener: Listener;
  #nextView = 1;
  readonly #source = crypto.randomUUID();
  /** Those who came by a guest's link. */
  readonly guests: DeskGuests;
  /** How the programme stands, and whatever is done to it. */
  readonly programme = new ProgrammeDesk({
    say: (message) => this.#say(message),
    revision: () => this.revision(),
    nowMs: () => systemClock.nowMs(),
    changed: (state, commands, atSeconds) => this.#programmeChanged(state, commands, atSeconds),
  });
  /** Of the show, as its store has it. */
  revision: () => number = () => 0;
  readonly #onVisibility = () => this.setVisible(DESK_WINDOW, document.visibilityState === 'visible');

  constructor(fonts: { family: string; url: string }[]) {
    this.#sound = new SoundDesk(
      this.#memory,
      (inputId, ring) => this.#say({ type: 'fileSound', inputId, ring }),
      () => {
        const began = this.#snapshot.sound.state !== this.#sound.state;
        this.#change({ sound: this.#soundSnapshot() });
        this.#sayMusic();
        if (began) this.guests.update();
      },
      (channelId) => this.onMusicEnded(channelId),
    );
    this.probe = new Probe(this.#memory.probe);
    this.listener = new Listener(this.#memory, this.#sound, (echo) => this.#change({ echo }));
    this.#snapshot = {
      stage: null,
      inputs: [],
      uplink: null,
      sound: this.#soundSnapshot(),
      echo: null,
      programme: NO_PROGRAMME,
      onAirSceneId: null,
      onAirPoseId: null,
      faults: [],
      live: false,
      encodes: new Map(),
      guests: new Map(),
    };
    this.#devices = new CaptureDevices(
      (inputId, frames) => this.#say({ type: 'track', inputId, frames }, [frames as unknown as Transferable]),
      (inputId, problem) => this.#say({ type: 'inputProblem', inputId, problem }),
      (inputId, stream) => this.#sound.setInputStream(inputId, stream),
    );
    this.guests = new DeskGuests({
      sound: this.#sound,
      document: () => this.#document,
      programme: () => this.#snapshot.programme,
      toStage: (message, transfer) => this.#say(message, transfer),
      addView: (...of) => this.addView(...of),
      changed: (guests) => this.#change({ guests }),
      fault: (message) => this.#fault(message),
    });
    this.#stage.onmessage = ({ data }: MessageEvent<FromStage>) => this.#fromStage(data);
    this.#stage.onerror = (event) =>
      this.#fault(`The stage could not run: ${event.message}. Reload the studio.`);
    document.addEventListener('visibilitychange', this.#onVisibility);
    this.#say({ type: 'start', sound: this.#memory, fonts });
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): DeskSnapshot => this.#snapshot;

  setDocument(document: ShowDocument): void {
    if (this.#document.size === 0) void this.#sound.start(seatsOf(document).length > 0);
    const { put, removed } = changesBetween(this.#document, document);
    if (put.length === 0 && removed.length === 0) return;
    this.#document = document;
    this.#say({ type: 'document', put, removed });
    // A drag moves layers many times a second; sound, devices and sizes do not depend on where they stand, nor on the rundown.
    if (removed.length > 0 || put.some((r) => !RUNDOWN_KINDS.has(r.kind) && !this.#known(r))) {
      this.#sound.setDocument(document);
      this.listener.setDocument(document);
      this.#say({ type: 'voices', voices: this.#voices() });
      this.guests.update();
      this.#showDevices();
      if (this.#session === null) this.#saySizes();
    }
  }

  /** When the last of the music that plays will be over: credits may end with it. */
  #sayMusic(): void {
    const ends = [...this.#sound.music.values()].flatMap(({ endsAtMs }) => endsAtMs ?? []);
    const endsAtMs = ends.length === 0 ? null : Math.max(...ends);
    if (endsAtMs === this.#musicEndsAtMs) return;
    this.#musicEndsAtMs = endsAtMs;
    this.#say({ type: 'music', endsAtMs });
  }

  #voices(): { strip: number; name: string }[] {
    return recordsOf(this.#document, 'channel').flatMap(({ id, name, role }) => {
      const strip = this.#sound.stripOf(id);
      return role === 'voice' && strip !== null ? [{ strip, name }] : [];
    });
  }

  /** Whether a layer differs only in where and how it stands from what sound and devices were told. */
  #known(record: AnyRecord): boolean {
    if (record.kind !== 'layer') return false;
    const before = this.#told.get(record.id);
    this.#told.set(record.id, record);
    return (
      before !== undefined &&
      before.visible === record.visible &&
      before.content === record.content &&
      before.sceneId === record.sceneId &&
      before.groupId === record.groupId
    );
  }

  #programmeChanged(
    programme: ProgrammeState,
    commands: readonly ProgrammeCommand[],
    atSeconds: number,
  ): void {
    for (const command of commands)
      if (command.type === 'take' && command.transition.type === 'stinger' && command.transition.stinger)
        this.#sound.playStinger(command.transition.stinger, atSeconds);
    this.#sound.setProgramme(programme, pictureSeconds(commands), atSeconds);
    this.#change({
      programme,
      onAirSceneId: programme.onAir?.sceneId ?? null,
      onAirPoseId: programme.onAir?.poseId ?? null,
    });
    this.guests.update();
    this.#showDevices();
  }

  edit({ sceneId, poseId }: Stop): void {
    this.#editSceneId = sceneId;
    this.#say({ type: 'edit', sceneId, poseId });
    this.#showDevices();
  }

  /** Devices that are not kept ready are opened for the scenes on air and in the editor only. */
  #showDevices(): void {
    const shown = new Set<string>();
    for (const id of [this.#snapshot.onAirSceneId, this.#editSceneId])
      if (id) for (const input of inputsNeeded(this.#document, id)) shown.add(input);
    this.#devices.setDocument(this.#document, shown);
  }

  /** What viewers do, and what is done with it. */
  audience(message: ToLiveAudience): void {
    this.#say(message);
  }

  /** Plays a movement in the editor, unseen by viewers. */
  tryOut(what: Omit<Extract<ToStage, { type: 'tryOut' }>, 'type'>): void {
    this.#say({ type: 'tryOut', ...what });
  }

  /** A hand on clips, on air or off. */
  clips(inputId: string, order: ClipsOrder): void {
    this.#say({ type: 'clips', inputId, order });
  }

  /** Views in a window that cannot be seen are not drawn. */
  setVisible(windowId: string, visible: boolean): void {
    this.#say({ type: 'visible', windowId, visible });
  }

  /** Shows something live in a canvas; the canvas belongs to the stage from then on. */
  addView(
    canvas: HTMLCanvasElement,
    subject: ViewSubject,
    width: number,
    height: number,
    windowId = DESK_WINDOW,
  ): LiveCanvas {
    const viewId = String(this.#nextView++);
    canvas.width = width;
    canvas.height = height;
    const offscreen = canvas.transferControlToOffscreen();
    this.#say({ type: 'addView', viewId, canvas: offscreen, subject, windowId }, [offscreen]);
    return {
      resize: (w, h) => this.#say({ type: 'sizeView', viewId, width: w, height: h }),
      setPart: (part) => this.#say({ type: 'partView', viewId, part }),
      see: (seen) => this.#say({ type: 'seeView', viewId, seen }),
      remove: () => this.#say({ type: 'removeView', viewId }),
    };
  }

  /** Asks for a screen, window or tab at the plan's rate; needs a click. */
  askScreen(surface: 'screen' | 'window' | 'region'): ReturnType<typeof CaptureDevices.askScreen> {
    return CaptureDevices.askScreen(surface, this.#plan()?.fps ?? USUAL_FPS);
  }

  useScreen(inputId: string, stream: MediaStream): void {
    this.#devices.useScreen(inputId, stream);
  }

  /** What the camera of an input can do; null while it does not run. */
  camera(inputId: string): CameraFacts | null {
    return this.#devices.camera(inputId);
  }

  retryDevices(): void {
    this.#devices.retry();
  }

  get sound(): SoundDesk {
    return this.#sound;
  }

  #soundSnapshot(): DeskSnapshot['sound'] {
    const { state, message, problems, music, switches, noiseProblem } = this.#sound;
    const { monitorProblem, windowsProblem } = this.#sound;
    return {
      ...{ state, message, switches, noiseProblem, monitorProblem, windowsProblem },
      problems: new Map(problems),
      music: new Map(music),
    };
  }

  /** Of the channel whose chain is drawn. */
  readProcessor(index: number): ProcessorReading {
    return this.#sound.meters.readProcessor(index);
  }

  readMeter(channelId: string): StripReading | null {
    const strip = this.#sound.stripOf(channelId);
    return strip === null ? null : this.#sound.meters.readStrip(strip);
  }

  /** Inputs that capture a whole screen. */
  wholeScreens(): string[] {
    return this.#devices.wholeScreens();
  }

  readProgramme(): ProgrammeReading {
    return this.#sound.meters.readProgramme();
  }

  /**
   * Starts encoding and sending.
   * @throws Error with words for the user when this browser or plan cannot do it
   */
  async goLive(session: {
    uplinkUrl: string;
    sessionId: string;
    ticket: string;
    encodes: readonly Encode[];
    encoding: Encoding;
  }): Promise<void> {
    if (this.#session === session.sessionId) return;
    const plan = this.#plan();
    if (!plan) throw new Error('There is no delivery plan: add one in Delivery.');
    await this.#sound.resume();
    if (this.#sound.state === 'failed') throw new Error(this.#sound.message);
    const encodes = await encodePlans(session.encoding, session.encodes);
    if (encodes.length === 0) throw new Error('The plan sends no frame: give one a size in Delivery.');
    this.#session = session.sessionId;
    this.#sayUplink({ type: 'start' });
    this.#sayUplink({
      type: 'session',
      url: session.uplinkUrl,
      sessionId: session.sessionId,
      ticket: session.ticket,
      source: this.#source + session.sessionId,
    });
    this.#sound.resetProgramme();
    const sound = new MessageChannel();
    this.#sayUplink({ type: 'port', of: 'sound', port: sound.port2 }, [sound.port2]);
    const start: ToSoundEncoder = {
      type: 'start',
      sound: this.#memory,
      kbps: plan.audioKbps,
      port: sound.port1,
      tracks: tracksInUse(this.#document),
    };
    this.#senders().soundEncoder.postMessage(start, [sound.port1]);
    for (const { encode, plan: of } of encodes) this.#encode(encode, of);
    this.#change({ live: true });
  }

  #encode(encode: EncodeId, plan: EncodePlan): void {
    if (this.#encodes.has(encode)) return;
    this.#setEncodes([[encode, plan]]);
    const pictures = new MessageChannel();
    this.#sayUplink({ type: 'port', of: encode, port: pictures.port2 }, [pictures.port2]);
    this.#say({ type: 'encode', encode, plan, port: pictures.port1 }, [pictures.port1]);
  }

  /**
   * Encodes what the broadcast is to send by now: what a destination that was switched on wants beside it, and what was
   * changed, from the next keyframe on in the same stream.
   * @throws Error with words for the user when this browser cannot; everything goes on as before then
   */
  async follow({
    encodes: wanted,
    encoding,
  }: {
    encodes: readonly Encode[];
    encoding: Encoding;
  }): Promise<void> {
    const session = this.#session;
    if (session === null) return;
    const encodes = await encodePlans(encoding, wanted);
    if (this.#session !== session) return;
    const changed = encodes.filter(({ encode, plan }) => {
      const now = this.#encodes.get(encode);
      return now && encodeDiffers(plan, now);
    });
    if (changed.length > 0) this.#changeEncodes(changed, encoding.fps);
    for (const { encode, plan } of encodes) this.#encode(encode, plan);
  }

  #changeEncodes(changed: readonly { encode: EncodeId; plan: EncodePlan }[], fps: number): void {
    this.#setEncodes(changed.map(({ encode, plan }) => [encode, plan]));
    const encodes = changed.map((one) => {
      const { port1, port2 } = new MessageChannel();
      this.#sayUplink({ type: 'port', of: one.encode, port: port2, takesOver: true }, [port2]);
      return { ...one, port: port1 };
    });
    this.#say(
      { type: 'change', fps, encodes },
      encodes.map(({ port }) => port),
    );
  }

  get #encodes(): ReadonlyMap<EncodeId, EncodePlan> {
    return this.#snapshot.encodes;
  }

  #setEncodes(changed: readonly (readonly [EncodeId, EncodePlan])[]): void {
    this.#change({ encodes: new Map([...this.#encodes, ...changed]) });
  }

  /** The next pictures of a frame, as they are before encoding, on a port; see `tap` of the stage. */
  tap(frame: FrameName, count: number, goesOn = false): MessagePort {
    const { port1, port2 } = new MessageChannel();
    this.#say({ type: 'tap', frame, count, goesOn, port: port1 }, [port1]);
    return port2;
  }

  endLive(): void {
    if (this.#session === null) return;
    this.#session = null;
    this.#say({ type: 'stopEncode' });
    this.#sending?.soundEncoder.postMessage({ type: 'stop' } satisfies ToSoundEncoder);
    this.#sayUplink({ type: 'stop' });
    this.#saySizes();
    this.#change({ live: false, encodes: new Map() });
  }

  #saySizes(): void {
    const plan = this.#plan();
    const show = recordsOf(this.#document, 'show')[0];
    if (!plan || !show) return;
    const frames: Partial<Record<FrameName, Size>> = {};
    for (const frame of FRAME_NAMES) {
      if (!show.frames[frame].used) continue;
      // One that goes nowhere is still looked at, and may be a camera for a call.
      const { width, height } = plan.frames[frame] ?? within(show.frames[frame], UNPLANNED_SIDE);
      frames[frame] = { width, height };
    }
    this.#say({ type: 'size', frames, fps: plan.fps });
  }

  /** What the server is told once a second. */
  health(): DeskHealth {
    const { stage, uplink, onAirSceneId } = this.#snapshot;
    const { momentaryLufs, integratedLufs, loudnessBlocks, truePeak, load, mixing } = this.readProgramme();
    const finite = (value: number) => (Number.isFinite(value) ? value : null);
    return {
      run: `${this.#source}${stage?.run ?? 0}`,
      onAirSceneId,
      fps: stage?.fps ?? 0,
      due: stage?.due ?? 0,
      composed: stage?.composed ?? 0,
      late: stage?.late ?? 0,
      skipped: (stage?.skipped ?? 0) + (stage?.gaveWay ?? 0) + (stage?.encoderBusy ?? 0),
      pace: stage?.pace ?? 0,
      scale: stage?.scale ?? 1,
      leftOut: stage?.leftOut ?? 0,
      lineDropped: stage?.lineDropped ?? 0,
      composeMs: stage?.composeMs ?? 0,
      programmeEpochMs: stage?.programmeEpochMs ?? 0,
      clockSlips: stage?.clockSlips ?? 0,
      lufs: finite(momentaryLufs),
      integratedLufs: finite(integratedLufs),
      loudnessBlocks,
      truePeakDbtp: finite(dbOfAmplitude(truePeak)),
      soundLoad: load,
      soundMixing: mixing,
      alertLagMs: stage?.alerts.lagMs ?? null,
      alerts: {
        shown: stage?.alerts.shown ?? 0,
        merged: stage?.alerts.merged ?? 0,
        limited: stage?.alerts.limited ?? 0,
        waiting: stage?.alerts.waiting ?? 0,
      },
      kbps: uplink?.kbps ?? 0,
      unackedMs: uplink?.unackedMs ?? 0,
      encodes: stage?.encodes ?? [],
    };
  }

  close(): void {
    document.removeEventListener('visibilitychange', this.#onVisibility);
    this.#stage.terminate();
    this.#sending?.uplink.terminate();
    this.#sending?.soundEncoder.terminate();
    this.#devices.close();
    this.guests.close();
    this.listener.close();
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
    return planInUse(this.#document);
  }

  #say(message: ToStage, transfer: Transferable[] = []): void {
    this.#stage.postMessage(message, transfer);
  }

  #sayUplink(message: ToUplink, transfer: Transferable[] = []): void {
    this.#senders().uplink.postMessage(message, transfer);
  }

  #fromStage(message: FromStage): void {
    if (message.type === 'report') this.#change({ stage: message.report });
    else if (message.type === 'stamped') this.programme.stamped(message);
    else if (message.type === 'inputs') {
      // Told twice a second, and mostly the same.
      if (!equal(message.inputs, this.#snapshot.inputs)) this.#change({ inputs: message.inputs });
    } else if (message.type === 'clipsEnded') this.onClipsEnded(message.inputId, message.thenNext);
    else if (message.type === 'countdownEnded') this.onCountdownEnded(message.sceneId, message.thenNext);
    else if (message.type === 'sampled') this.samples.take(message);
    else if (message.type === 'shot') this.scenePictures.take(message);
    else if (message.type === 'alertsKept') this.onAlertsKept(message.kept);
    else if (message.type === 'alertBegan') {
      if (!message.muted) this.#sound.playAlert(message.ruleId, message.words);
    } else this.#fault(message.message);
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
