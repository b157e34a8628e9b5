import { recordsOf, type ShowDocument } from '../../core/show/document';
import { inputsOfScene } from '../../core/show/layers';
import type { ChannelRecord } from '../../core/show/records';
import { MIXER_SAMPLE_RATE } from '../../core/sound/mixer';
import type { StripSetting, ToMixer } from '../../protocol/engine';
import { FileRing, MAX_STRIPS, MeterMemory, type SoundMemory } from '../../protocol/shared-sound';
import { explainDeviceError } from '../inputs/device-error';
import workletUrl from './mixer.worklet.ts?worker&url';

const RETRY_MS = 5000;

/** `waiting`: the browser wants a click before sound may run. */
export type SoundState = 'starting' | 'waiting' | 'running' | 'failed';

interface Microphone {
  deviceId: string;
  stream: MediaStream | null;
  node: MediaStreamAudioSourceNode | null;
  opening: boolean;
}

/** The page's side of the sound thread: the audio context, microphones, and which channel is on which strip. */
export class SoundDesk {
  state: SoundState = 'starting';
  message = '';
  readonly meters: MeterMemory;
  readonly problems = new Map<string, string>();
  #context: AudioContext | null = null;
  #node: AudioWorkletNode | null = null;
  #document: ShowDocument = new Map();
  #onAirSceneId: string | null = null;
  readonly #strips = new Map<string, number>();
  readonly #rings = new Map<string, FileRing>();
  readonly #microphones = new Map<string, Microphone>();
  readonly #inputStreams = new Map<
    string,
    { stream: MediaStream; node: MediaStreamAudioSourceNode | null }
  >();
  readonly #timer: ReturnType<typeof setInterval>;
  #closed = false;
  readonly #wake = () => void this.resume();

  constructor(
    readonly memory: SoundMemory,
    readonly onFileRing: (inputId: string, ring: SharedArrayBuffer) => void,
    readonly onChange: () => void,
  ) {
    this.meters = new MeterMemory(memory.meters);
    this.#timer = setInterval(() => this.#openMicrophones(), RETRY_MS);
    for (const event of ['pointerdown', 'keydown'] as const) window.addEventListener(event, this.#wake);
  }

  async start(): Promise<void> {
    try {
      // A sink of our own making: nothing is heard here, and a busy page does not make the sound stumble.
      const options = {
        sampleRate: MIXER_SAMPLE_RATE,
        latencyHint: 0.1,
        sinkId: { type: 'none' },
      } as AudioContextOptions;
      const context = new AudioContext(options);
      this.#context = context;
      await context.audioWorklet.addModule(workletUrl);
      if (this.#closed) return;
      this.#node = new AudioWorkletNode(context, 'dolomite-mixer', {
        numberOfInputs: MAX_STRIPS,
        numberOfOutputs: 1,
        outputChannelCount: [2],
        processorOptions: { sound: this.memory },
      });
      this.#node.onprocessorerror = () => this.#fail('the sound thread stopped: reload the studio');
      this.#node.connect(context.destination);
      context.onstatechange = () => this.#setState(context.state === 'running' ? 'running' : 'waiting', '');
      this.#setState(context.state === 'running' ? 'running' : 'waiting', '');
      this.#apply();
      this.#openMicrophones();
    } catch (error) {
      this.#fail(error instanceof Error ? error.message : String(error));
    }
  }

  /** After a click or key: browsers let sound start only then. */
  async resume(): Promise<void> {
    if (this.#context?.state === 'suspended') await this.#context.resume();
  }

  setDocument(document: ShowDocument): void {
    this.#document = document;
    this.#apply();
    this.#openMicrophones();
  }

  setOnAir(sceneId: string): void {
    this.#onAirSceneId = sceneId;
    this.#apply();
  }

  /** Sound that came with a shared screen or tab. */
  setInputStream(inputId: string, stream: MediaStream | null): void {
    this.#inputStreams.get(inputId)?.node?.disconnect();
    if (stream) this.#inputStreams.set(inputId, { stream, node: null });
    else this.#inputStreams.delete(inputId);
    this.#apply();
  }

  stripOf(channelId: string): number | null {
    return this.#strips.get(channelId) ?? null;
  }

  resetProgramme(): void {
    this.#say({ type: 'resetProgramme' });
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearInterval(this.#timer);
    for (const event of ['pointerdown', 'keydown'] as const) window.removeEventListener(event, this.#wake);
    for (const id of [...this.#microphones.keys()]) this.#closeMicrophone(id);
    await this.#context?.close();
  }

  #setState(state: SoundState, message: string): void {
    this.state = state;
    this.message = message;
    this.onChange();
  }

  #fail(message: string): void {
    this.#setState('failed', `There is no sound: ${message}`);
  }

  #say(message: ToMixer): void {
    this.#node?.port.postMessage(message);
  }

  /** Inputs seen on air, for channels that are heard only with their picture. */
  #seen(): Set<string> {
    return this.#onAirSceneId ? inputsOfScene(this.#document, this.#onAirSceneId) : new Set();
  }

  #apply(): void {
    const channels = recordsOf(this.#document, 'channel');
    for (const [id] of this.#strips) if (!channels.some((c) => c.id === id)) this.#strips.delete(id);
    const taken = new Set(this.#strips.values());
    for (const { id } of channels) {
      if (this.#strips.has(id)) continue;
      for (let i = 0; i < MAX_STRIPS; i++)
        if (!taken.has(i)) {
          this.#strips.set(id, i);
          taken.add(i);
          break;
        }
      if (!this.#strips.has(id))
        this.problems.set(id, `the mixer takes ${MAX_STRIPS} channels: remove one first`);
    }
    if (!this.#node) return;
    const seen = this.#seen();
    const strips: StripSetting[] = [];
    for (const channel of channels) {
      const index = this.#strips.get(channel.id);
      if (index === undefined) continue;
      const heard =
        channel.heard === 'always' || (channel.pictureInputId !== null && seen.has(channel.pictureInputId));
      strips.push({
        index,
        source: this.#sourceOf(channel, index),
        gainDb: channel.gainDb,
        muted: channel.muted || !heard,
      });
    }
    this.#say({ type: 'strips', strips });
  }

  #sourceOf(channel: ChannelRecord, strip: number): StripSetting['source'] {
    const { source } = channel;
    if (source.type === 'simulated') return source;
    if (source.type === 'microphone') return { type: 'graph', input: strip };
    const shared = this.#inputStreams.get(source.inputId);
    if (shared) {
      if (!shared.node) {
        shared.node = this.#context!.createMediaStreamSource(shared.stream);
        shared.node.connect(this.#node!, 0, strip);
      }
      return { type: 'graph', input: strip };
    }
    let ring = this.#rings.get(source.inputId);
    if (!ring) {
      ring = FileRing.create();
      this.#rings.set(source.inputId, ring);
      this.onFileRing(source.inputId, ring.buffer);
    }
    return { type: 'file', ring: ring.buffer };
  }

  #openMicrophones(): void {
    if (!this.#node) return;
    const wanted = recordsOf(this.#document, 'channel').filter((c) => c.source.type === 'microphone');
    for (const id of [...this.#microphones.keys()]) {
      const channel = wanted.find((c) => c.id === id);
      if (
        !channel ||
        (channel.source.type === 'microphone' &&
          channel.source.deviceId !== this.#microphones.get(id)!.deviceId)
      )
        this.#closeMicrophone(id);
    }
    for (const channel of wanted) {
      const known = this.#microphones.get(channel.id);
      if (!known?.stream && !known?.opening) void this.#openMicrophone(channel);
    }
  }

  async #openMicrophone(channel: ChannelRecord): Promise<void> {
    const { source } = channel;
    const strip = this.#strips.get(channel.id);
    if (source.type !== 'microphone' || strip === undefined) return;
    const microphone: Microphone = { deviceId: source.deviceId, stream: null, node: null, opening: true };
    this.#microphones.set(channel.id, microphone);
    try {
      const stream = await navigator.mediaDevices.getUserMedia({
        audio: {
          deviceId: source.deviceId === '' ? undefined : { exact: source.deviceId },
          // Raw sound: the browser's own processing pumps and cuts; the voice chain is ours.
          echoCancellation: false,
          noiseSuppression: false,
          autoGainControl: false,
        },
      });
      if (this.#microphones.get(channel.id) !== microphone || !this.#context || !this.#node) {
        for (const track of stream.getTracks()) track.stop();
        return;
      }
      microphone.stream = stream;
      microphone.node = this.#context.createMediaStreamSource(stream);
      microphone.node.connect(this.#node, 0, strip);
      stream.getAudioTracks()[0].addEventListener('ended', () => {
        this.#closeMicrophone(channel.id);
        this.problems.set(
          channel.id,
          `${source.deviceLabel || 'The microphone'} was unplugged: it comes back by itself`,
        );
        this.onChange();
      });
      this.problems.delete(channel.id);
    } catch (error) {
      this.problems.set(channel.id, explainDeviceError(error, source.deviceLabel || 'The microphone'));
    } finally {
      microphone.opening = false;
      this.onChange();
    }
  }

  #closeMicrophone(id: string): void {
    const microphone = this.#microphones.get(id);
    microphone?.node?.disconnect();
    for (const track of microphone?.stream?.getTracks() ?? []) track.stop();
    this.#microphones.delete(id);
  }
}
