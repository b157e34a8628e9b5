/**
 * The engine of a studio page on driven time: the same stage, sound thread and encoders, stepped one video frame after the
 * other, each of which waits until the encoders have given out what they were given. What comes out is alike on a slow
 * machine and a fast one. Bundled for the browser.
 */
import { glideSeconds, type Stop } from '../../core/motion/programme';
import type { ProgrammeCommand } from '../../core/programme/commands';
import { pictureSeconds } from '../../core/programme/programme-state';
import { documentOf, findRecord, recordsOf, type ShowDocument } from '../../core/show/document';
import type { Transition } from '../../core/show/motion-records';
import type { AnyRecord, FrameName } from '../../core/show/records';
import { DrivenClock } from '../../core/time/driven-clock';
import { isMade } from '../../engine/audio/made-sounds';
import { alertSounds, stingerSounds } from '../../engine/audio/caused-sounds';
import { EffectBank } from '../../engine/audio/effect-bank';
import { SoundThread } from '../../engine/audio/sound-thread';
import {
  assignStrips,
  deskSound,
  NOTHING_SWITCHED,
  stripSettings,
  type SoundSwitches,
} from '../../engine/audio/strip-orders';
import { encodePlan } from '../../engine/encode/encode-plans';
import { SoundEncoder } from '../../engine/encode/sound-encoder';
import { ProgrammeDesk } from '../../engine/programme-desk';
import { Stage } from '../../engine/video/stage';
import {
  STINGER_LEAD_SECONDS,
  type EncodePlan,
  type FromStage,
  type InputState,
  type SoundTrack,
  type StageReport,
  type ToLiveAudience,
  type ToUplinkPort,
} from '../../protocol/engine';
import { BLOCK, createSoundMemory, MAX_STRIPS } from '../../protocol/shared-sound';
import type { StripOrder } from '../../protocol/sound-engine';
import { DRIVEN_START_MS } from './driven-start';

const BLOCK_MS = (BLOCK * 1000) / 48_000;
/** What takes longer than this in real time has hung. */
const HUNG_MS = 60_000;

/** What a hand, a viewer or a clip does at a moment. */
export type DrivenOrder =
  | { type: 'edit'; put: AnyRecord[]; removed?: string[] }
  | { type: 'take'; stop: Stop; transition: Transition }
  | { type: 'glide'; poseId: string }
  | { type: 'commands'; commands: readonly ProgrammeCommand[] }
  | { type: 'switch'; switches: Partial<SoundSwitches> }
  | { type: 'effect'; effectId: string }
  | { type: 'audience'; message: ToLiveAudience };

/** The machine has no time for pictures for so long; sound goes on. */
export interface Stall {
  type: 'stall';
  seconds: number;
}

/** From now on each picture takes so long, as on a slow computer; sound goes on. */
export interface Slow {
  type: 'slow';
  seconds: number;
}

/** The frames are encoded otherwise from the next keyframe on. */
export interface PlanChange {
  type: 'plan';
  frames: DrivenPlan['frames'];
}

export interface DrivenPlan {
  frames: Partial<Record<FrameName, Omit<EncodePlan, 'codec' | 'colour'>>>;
  audioKbps: number;
  tracks: readonly SoundTrack[];
}

export interface DrivenScript {
  records: AnyRecord[];
  onAir: Stop;
  plan: DrivenPlan;
  /** Programme seconds after the first encoded frame. */
  orders: readonly { at: number; order: DrivenOrder | Stall | Slow | PlanChange }[];
  seconds: number;
  noise: boolean;
  /** With a view of the page on what is on air, at first at this rate instead of the plan's. */
  viewedAtFps: number | null;
}

/** One message of an encoder, as it left; payloads in base64. */
export interface DrivenMessage {
  atMs: number;
  of: FrameName | 'sound';
  message: ToUplinkPort;
}

export interface DrivenRun {
  messages: DrivenMessage[];
  /** What the stage told, but for its reports. */
  told: { at: number; message: FromStage }[];
  report: StageReport;
  /** How large it was drawn, at programme seconds, by its reports. */
  scales: { at: number; scale: number }[];
  /** When the page's view showed another picture. */
  viewed: number[];
}

const turn = (): Promise<void> =>
  new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });

async function until(what: string | (() => string), is: () => boolean): Promise<void> {
  const from = performance.now();
  while (!is()) {
    if (performance.now() - from > HUNG_MS)
      throw new Error(`driven time hung: ${typeof what === 'string' ? what : what()}`);
    await turn();
  }
}

class DrivenDesk {
  readonly clock = new DrivenClock(DRIVEN_START_MS);
  readonly messages: DrivenMessage[] = [];
  readonly told: { at: number; message: FromStage }[] = [];
  report: StageReport | null = null;
  readonly scales: DrivenRun['scales'] = [];
  inputs: readonly InputState[] = [];
  fromMs = 0;
  /** What a picture takes. */
  #workMs = 0;
  readonly viewed: number[] = [];
  #view: { canvas: OffscreenCanvas; last: string } | null = null;
  readonly #memory = createSoundMemory();
  readonly #stage: Stage;
  readonly #thread: SoundThread;
  readonly #effects: EffectBank;
  readonly #strips = new Map<string, number>();
  #sound: SoundEncoder | null = null;
  #blocks = 0;
  #document: ShowDocument = new Map();
  readonly programme = new ProgrammeDesk({
    say: (message) => this.#stage.take(message),
    revision: () => 0,
    nowMs: () => this.clock.nowMs(),
    changed: (_, commands, atSeconds) => this.#programmeChanged(commands, atSeconds),
  });
  #change = { seconds: 0, untilMs: 0 };
  #switches: SoundSwitches = NOTHING_SWITCHED;
  #loading = 0;
  #fault: string | null = null;
  readonly #outputs = Array.from({ length: 1 }, () => [new Float32Array(BLOCK), new Float32Array(BLOCK)]);

  constructor(noise: ArrayBuffer | null) {
    this.#thread = new SoundThread(this.#memory, noise, () => this.clock.nowMs());
    this.#effects = new EffectBank(
      (message) => {
        this.#loading -= message.type === 'loadEffect' ? 1 : 0;
        this.#thread.obey(message);
      },
      (id, problem) => {
        if (problem !== null) this.#fault = `${id}: ${problem}`;
      },
    );
    this.#stage = new Stage(this.clock, {
      tell: (message) => this.#hear(message),
      fonts: document.fonts,
    });
    this.#stage.take({ type: 'start', sound: this.#memory, fonts: [] });
  }

  /** Until pictures are open, sounds decoded, and the stage runs on the sound thread's clock. */
  async open(script: DrivenScript): Promise<void> {
    let ready = false;
    this.#stage.onReady = () => (ready = true);
    await until('the fonts', () => ready);
    const { wide, tall } = script.plan.frames;
    const fps = (wide ?? tall)!.fps;
    const frames = { ...(wide && { wide }), ...(tall && { tall }) };
    this.#stage.take({ type: 'size', frames, fps: script.viewedAtFps ?? fps });
    this.#edit(script.records, []);
    if (script.viewedAtFps !== null) {
      const canvas = new OffscreenCanvas(64, 36);
      this.#view = { canvas, last: '' };
      this.#stage.take({
        type: 'addView',
        viewId: 'view',
        canvas,
        subject: { type: 'onAir', frame: 'wide' },
        windowId: 'desk',
      });
    }
    this.obey({ type: 'take', stop: script.onAir, transition: { type: 'cut', seconds: 0 } as Transition });
    const from = performance.now();
    const opening = () =>
      this.#loading > 0 || this.inputs.some((i) => i.state === 'waiting') || !this.#stage.caughtUp;
    // Two seconds of the programme at least: the clock's anchor has then settled.
    for (let frames = 0; frames < (script.viewedAtFps ?? fps) * 2 || opening(); frames++) {
      if (performance.now() - from > HUNG_MS) {
        const waiting = this.inputs.filter((i) => i.state === 'waiting').map((i) => i.message);
        throw new Error(`driven time hung: ${this.#loading} sounds, pictures: ${waiting.join(', ')}`);
      }
      await this.#frame();
    }
    this.#stage.take({ type: 'size', frames, fps });
  }

  async encode({ frames, audioKbps, tracks }: DrivenPlan): Promise<void> {
    const sound = this.#port('sound');
    const onLost = (blocks: number) => void (this.#fault = `${blocks} blocks of sound were lost`);
    const onFailure = (message: string) => void (this.#fault = message);
    const options = { sound: this.#memory, kbps: audioKbps, port: sound, tracks, onLost, onFailure };
    this.#sound = await SoundEncoder.open(this.clock, options);
    // Sound first: a relay begins with the first keyframe after the configuration of both.
    const heard = () =>
      this.messages.filter((m) => m.message.type === 'config' && !m.message.config.cover).length;
    while (heard() <= tracks.length) await this.#frame();
    for (const frame of ['wide', 'tall'] as const) {
      const wanted = frames[frame];
      if (!wanted) continue;
      const plan = await encodePlan(wanted);
      if (!plan) throw new Error('this browser cannot encode it');
      const port = this.#port(frame);
      this.#stage.take({ type: 'encode', encode: frame, plan, port });
      // The cover goes ahead, as it does in a studio whose pictures wait for nobody.
      await until('the cover', () =>
        this.messages.some((m) => m.of === frame && m.message.type === 'coverEnd'),
      );
    }
    this.fromMs = this.clock.nowMs() + Math.max(0, this.#stage.waitMs);
  }

  async run(script: DrivenScript): Promise<void> {
    const orders = [...script.orders].sort((a, b) => a.at - b.at);
    const seconds = () => (this.clock.nowMs() - this.fromMs) / 1000;
    while (seconds() < script.seconds) {
      while (orders.length > 0 && orders[0].at <= seconds()) {
        const { order } = orders.shift()!;
        if (order.type === 'stall') await this.#stall(order.seconds);
        else if (order.type === 'slow') this.#workMs = order.seconds * 1000;
        else if (order.type === 'plan') await this.#changePlan(order.frames);
        else this.obey(order);
      }
      await this.#frame();
      if (this.#fault !== null) throw new Error(this.#fault);
    }
    await this.#sound!.finish();
    // What the encoders gave out last is still on its way through the ports.
    for (let i = 0; i < 20; i++) await turn();
  }

  obey(order: DrivenOrder): void {
    switch (order.type) {
      case 'edit':
        return this.#edit(order.put, order.removed ?? []);
      case 'take':
        return void this.programme.send([{ type: 'take', ...order.stop, transition: order.transition }]);
      case 'glide': {
        const { sceneId } = this.programme.state.onAir!;
        const { poseId } = order;
        const seconds = glideSeconds({ sceneId, poseId }, this.#document);
        return void this.programme.send([{ type: 'glide', sceneId, poseId, seconds }]);
      }
      case 'commands':
        return void this.programme.send(order.commands);
      case 'switch':
        this.#switches = { ...this.#switches, ...order.switches };
        return this.#sayStrips();
      case 'effect': {
        const effect = findRecord(this.#document, 'effect', order.effectId);
        if (effect) this.#effects.play(effect);
        return;
      }
      case 'audience':
        return this.#stage.take(order.message);
    }
  }

  #edit(put: AnyRecord[], removed: string[]): void {
    const document = new Map(this.#document);
    for (const id of removed) document.delete(id);
    for (const [id, record] of documentOf(put)) document.set(id, record);
    this.#document = document;
    this.#stage.take({ type: 'document', put, removed });
    const sounds = [...recordsOf(document, 'effect'), ...alertSounds(document), ...stingerSounds(document)];
    const before = this.#soundsAsked;
    for (const { id, source } of sounds)
      if (before.get(id) !== JSON.stringify(source)) {
        before.set(id, JSON.stringify(source));
        this.#loading += 1;
      }
    this.#effects.update(sounds);
    this.#sayStrips();
  }

  readonly #soundsAsked = new Map<string, string>();

  #programmeChanged(commands: readonly ProgrammeCommand[], atSeconds: number): void {
    const seconds = pictureSeconds(commands);
    if (seconds !== null) this.#change = { seconds, untilMs: this.clock.nowMs() + seconds * 1000 };
    for (const command of commands) {
      if (command.type !== 'take' || command.transition.type !== 'stinger') continue;
      const { stinger } = command.transition;
      const sound = stinger && stingerSounds(this.#document).find((s) => s.id.endsWith(stinger.assetId));
      if (sound) this.#effects.play(sound, atSeconds + STINGER_LEAD_SECONDS);
    }
    this.#sayStrips(atSeconds);
  }

  #sayStrips(atSeconds: number | null = null): void {
    const channels = recordsOf(this.#document, 'channel');
    assignStrips(this.#strips, channels);
    const state = {
      document: this.#document,
      programme: this.programme.state,
      changeSeconds: this.clock.nowMs() < this.#change.untilMs ? this.#change.seconds : 0,
      coughing: this.#switches.coughing,
      talk: this.#switches.talk,
      stripOf: (id: string) => this.#strips.get(id),
    };
    const put = channels.flatMap((channel): StripOrder[] => {
      const { source } = channel;
      const index = this.#strips.get(channel.id);
      if (index === undefined) return [];
      const settings = stripSettings(channel, state);
      if (isMade(source)) return [{ index, source: { type: 'made', sound: source }, settings }];
      if (source.type !== 'effects' && source.type !== 'speech') return [];
      return [{ index, source, settings }];
    });
    const there = new Set(put.map((order) => order.index));
    const removed = Array.from({ length: MAX_STRIPS }, (_, i) => i).filter((i) => !there.has(i));
    this.#thread.obey({ type: 'strips', put, removed, atSeconds });
    const strip = (id: string | null) => (id === null ? -1 : (this.#strips.get(id) ?? -1));
    const desk = deskSound(
      { document: this.#document, programme: state.programme },
      this.#switches,
      [],
      { focus: null, echo: null },
      strip,
    );
    this.#thread.obey({ type: 'desk', desk });
  }

  #port(of: FrameName | 'sound'): MessagePort {
    const { port1, port2 } = new MessageChannel();
    port2.onmessage = ({ data }: MessageEvent<ToUplinkPort>) =>
      this.messages.push({ atMs: this.clock.nowMs(), of, message: data });
    return port1;
  }

  /** One frame: the sound up to it, the picture, and whatever the encoders make of both. */
  async #frame(): Promise<void> {
    for (;;) {
      const wait = this.#stage.waitMs;
      if (wait <= 0) break;
      this.clock.advance(Math.max(wait, 0.05));
      this.#renderSound();
    }
    await this.#stage.tick();
    if (this.#workMs > 0) {
      this.clock.advance(this.#workMs);
      this.#renderSound();
    }
    await until(
      () =>
        `${this.#stage.encoding} pictures in encoders; decoders ${this.#stage.caughtUp ? 'ready' : 'behind'}`,
      () => this.#stage.encoding === 0 && this.#stage.caughtUp,
    );
    if (this.#sound) await this.#encodeSound(this.#sound);
    await turn();
    this.#look();
  }

  #look(): void {
    if (!this.#view) return;
    const { canvas, last } = this.#view;
    const now = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height).data.join();
    if (now !== last) this.viewed.push((this.clock.nowMs() - this.fromMs) / 1000);
    this.#view.last = now;
  }

  async #changePlan(frames: DrivenPlan['frames']): Promise<void> {
    const encodes = await Promise.all(
      (['wide', 'tall'] as const)
        .filter((frame) => frames[frame])
        .map(async (encode) => {
          const wanted = frames[encode]!;
          const plan = await encodePlan(wanted);
          if (!plan) throw new Error('this browser cannot encode it');
          return { encode, plan, port: this.#port(encode) };
        }),
    );
    this.#stage.take({ type: 'change', fps: (frames.wide ?? frames.tall)!.fps, encodes });
  }

  async #stall(seconds: number): Promise<void> {
    for (let i = 0; i < seconds * 50; i++) {
      this.clock.advance(20);
      this.#renderSound();
      await this.#encodeSound(this.#sound!);
    }
  }

  async #encodeSound(sound: SoundEncoder): Promise<void> {
    while (await sound.encodeNext());
    await until('the recording tracks', () => sound.pending === 0);
  }

  #renderSound(): void {
    const due = Math.floor((this.clock.nowMs() - DRIVEN_START_MS) / BLOCK_MS);
    for (; this.#blocks < due; this.#blocks++) this.#thread.render([], this.#outputs);
  }

  #hear(message: FromStage): void {
    if (message.type === 'report') {
      this.report = message.report;
      this.scales.push({ at: (this.clock.nowMs() - this.fromMs) / 1000, scale: message.report.scale });
    } else if (message.type === 'inputs') this.inputs = message.inputs;
    else if (message.type === 'stamped') this.programme.stamped(message);
    else {
      this.told.push({ at: (this.clock.nowMs() - this.fromMs) / 1000, message });
      if (message.type === 'failed' || message.type === 'encodeFailed') this.#fault = message.message;
      if (message.type === 'alertBegan' && !message.muted) {
        const sound = alertSounds(this.#document).find((s) => s.id === message.ruleId);
        if (sound) this.#effects.play(sound);
      }
    }
  }
}

function base64(data: Uint8Array): string {
  let text = '';
  for (let i = 0; i < data.length; i += 8192) text += String.fromCharCode(...data.subarray(i, i + 8192));
  return btoa(text);
}

/** Runs a script from its beginning to its end. */
export async function drive(script: DrivenScript): Promise<DrivenRun> {
  const noise = script.noise
    ? await (await fetch('/node_modules/@shiguredo/rnnoise-wasm/dist/rnnoise_simd.wasm')).arrayBuffer()
    : null;
  const desk = new DrivenDesk(noise);
  await desk.open(script);
  await desk.encode(script.plan);
  desk.told.length = 0;
  desk.viewed.length = 0;
  await desk.run(script);
  const messages = desk.messages.map(({ message, ...rest }) => {
    if (message.type === 'coverEnd') return { ...rest, message };
    const carried =
      message.type === 'packet'
        ? { ...message, packet: { ...message.packet, payload: base64(message.packet.payload) } }
        : { ...message, config: { ...message.config, codecConfig: base64(message.config.codecConfig) } };
    return { ...rest, message: carried as unknown as ToUplinkPort };
  });
  return { messages, told: desk.told, report: desk.report!, scales: desk.scales, viewed: desk.viewed };
}
