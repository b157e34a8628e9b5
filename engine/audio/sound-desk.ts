import { findRecord, recordsOf, type ShowDocument } from '../../core/show/document';
import { NO_PROGRAMME, type ProgrammeState } from '../../core/programme/programme-state';
import type { Stinger } from '../../core/show/motion-records';
import type { ChannelRecord, EffectRecord } from '../../core/show/records';
import { MIXER_SAMPLE_RATE } from '../../core/sound/format';
import { MAX_GUESTS, type Hearer } from '../../core/guests/seats';
import { FIRST_RETURN, type StripOrder, type ToMixer } from '../../protocol/sound-engine';
import { STINGER_LEAD_SECONDS } from '../../protocol/engine';
import { FileRing, MAX_STRIPS, MeterMemory, type SoundMemory } from '../../protocol/shared-sound';
import type { Cancel } from '../../core/time/clock';
import { systemClock } from '../system-clock';
import { ComputerSounds } from './computer-sounds';
import { EffectBank } from './effect-bank';
import { Microphones } from './microphones';
import { alertSounds, stingerSounds } from './caused-sounds';
import { MonitorOutput } from './monitor-output';
import { MusicPlayers, type MusicNow } from './music-players';
import { assignStrips, deskSound, NOTHING_SWITCHED, stripSettings, type SoundSwitches } from './strip-orders';
import workletUrl from './mixer.worklet.ts?worker&url';
import noiseUrl from '@shiguredo/rnnoise-wasm/dist/rnnoise_simd.wasm?url';

const RETRY_MS = 5000;
/**
 * What the browser works on at once. The longer, the less a busy page makes the sound stumble; but a guest hears another
 * guest later by two of these: 431 ms after all with the long one, 282 with the short one.
 */
const STEADY_SECONDS = 0.1;
const QUICK_SECONDS = 0.03;

/** `waiting`: the browser wants a click before sound may run. */
export type SoundState = 'starting' | 'waiting' | 'running' | 'failed';

/** The page's side of the sound thread: the audio context, what feeds it, and which channel is on which strip. */
export class SoundDesk {
  state: SoundState = 'starting';
  message = '';
  readonly meters: MeterMemory;
  /** By id of a channel or an effect. */
  readonly problems = new Map<string, string>();
  readonly music = new Map<string, MusicNow>();
  switches: SoundSwitches = NOTHING_SWITCHED;
  /** Why there is no noise reduction, if so. */
  noiseProblem = '';
  noiseModule: ArrayBuffer | null = null;
  monitorProblem: string | null = null;
  /** Why clean windows are not heard, if so. */
  windowsProblem: string | null = null;
  #context: AudioContext | null = null;
  #node: AudioWorkletNode | null = null;
  #monitor: MonitorOutput | null = null;
  #windows: MonitorOutput | null = null;
  /** Where the sound of clean windows goes, while they have any. */
  #side: MediaStreamAudioDestinationNode | null = null;
  #document: ShowDocument = new Map();
  #programme: ProgrammeState = NO_PROGRAMME;
  #change = { seconds: 0, untilMs: 0 };
  #focus: string | null = null;
  #echo: string | null = null;
  /** Guests who are connected, and what takes the sound to each. */
  #hearers: readonly Hearer[] = [];
  readonly #returns = new Map<number, MediaStreamAudioDestinationNode>();
  readonly #strips = new Map<string, number>();
  readonly #said = new Map<number, { words: string; ring: SharedArrayBuffer | null }>();
  readonly #rings = new Map<string, FileRing>();
  readonly #microphones: Microphones;
  readonly #players: MusicPlayers;
  readonly #computer: ComputerSounds;
  readonly #effects: EffectBank;
  readonly #inputStreams = new Map<
    string,
    { stream: MediaStream; node: MediaStreamAudioSourceNode | null }
  >();
  readonly #endRetries: Cancel;
  #closed = false;
  readonly #wake = () => void this.resume();

  constructor(
    readonly memory: SoundMemory,
    readonly onFileRing: (inputId: string, ring: SharedArrayBuffer) => void,
    readonly onChange: () => void,
    /** A music list that does not loop has run out. */
    onMusicEnded: (channelId: string) => void,
  ) {
    this.meters = new MeterMemory(memory.meters);
    const tell = (id: string, problem: string | null) => {
      if (problem === null) this.problems.delete(id);
      else this.problems.set(id, problem);
      this.onChange();
    };
    this.#microphones = new Microphones((channelId, stream) => {
      const strip = this.#strips.get(channelId);
      return strip === undefined || this.#closed ? null : this.#connect(stream, strip);
    }, tell);
    this.#players = new MusicPlayers(
      memory.clock,
      (channelId, now) => {
        if (now) this.music.set(channelId, now);
        else this.music.delete(channelId);
        this.onChange();
      },
      onMusicEnded,
      tell,
    );
    this.#computer = new ComputerSounds(memory.clock, tell);
    this.#effects = new EffectBank((message, transfer) => this.#say(message, transfer), tell);
    this.#endRetries = systemClock.every(RETRY_MS, () => this.#openDevices());
    for (const event of ['pointerdown', 'keydown'] as const) window.addEventListener(event, this.#wake);
  }

  /** @param quick for people who talk with each other through it */
  async start(quick: boolean): Promise<void> {
    try {
      // A sink of our own making: nothing is heard here, and a busy page does not make the sound stumble.
      const options = {
        sampleRate: MIXER_SAMPLE_RATE,
        latencyHint: quick ? QUICK_SECONDS : STEADY_SECONDS,
        sinkId: { type: 'none' },
      } as AudioContextOptions;
      const context = new AudioContext(options);
      this.#context = context;
      this.noiseModule = await this.#loadNoise();
      await context.audioWorklet.addModule(workletUrl);
      if (this.#closed) return;
      this.#node = new AudioWorkletNode(context, 'dolomite-mixer', {
        numberOfInputs: MAX_STRIPS,
        numberOfOutputs: FIRST_RETURN + MAX_GUESTS,
        outputChannelCount: [2, 2, ...Array.from({ length: MAX_GUESTS }, () => 1)],
        // One voice stays one; more than two are mixed down by the browser.
        channelCount: 2,
        channelCountMode: 'clamped-max',
        processorOptions: { sound: this.memory, noise: this.noiseModule },
      });
      this.#node.onprocessorerror = () => this.#fail('the sound thread stopped: reload the studio');
      // The context must have an end that pulls; what is heard goes by the monitor's own way.
      this.#node.connect(context.destination);
      const [output, side] = [context.createMediaStreamDestination(), context.createMediaStreamDestination()];
      this.#node.connect(output, 0);
      this.#monitor = new MonitorOutput(output, 'dolomite-monitor', () => {
        this.monitorProblem = this.#monitor?.problem ?? null;
        this.onChange();
      });
      this.#windows = new MonitorOutput(side, 'dolomite-windows', () => {
        this.windowsProblem = this.#windows?.problem ?? null;
        this.onChange();
      });
      this.#side = side;
      // A clean window of an earlier evening is closed by now: its sound begins when somebody asks for it.
      this.#windows.set({ ...this.#windows.settings, deviceId: null });
      this.switches = { ...this.switches, monitor: this.#monitor.settings };
      context.onstatechange = () => this.#setState(context.state === 'running' ? 'running' : 'waiting', '');
      this.#setState(context.state === 'running' ? 'running' : 'waiting', '');
      this.#apply();
      this.#openDevices();
    } catch (error) {
      this.#fail(error instanceof Error ? error.message : String(error));
    }
  }

  /** After a click or key: browsers let sound start only then. */
  async resume(): Promise<void> {
    this.#monitor?.resume();
    this.#windows?.resume();
    if (this.#context?.state === 'suspended') await this.#context.resume();
  }

  setDocument(document: ShowDocument): void {
    this.#document = document;
    this.#apply();
    this.#openDevices();
  }

  /**
   * @param changeSeconds how long the picture takes to change: what comes and goes with it takes no less
   * @param atSeconds of the programme, from when on it stands so
   */
  setProgramme(programme: ProgrammeState, changeSeconds: number | null, atSeconds: number): void {
    this.#programme = programme;
    if (changeSeconds !== null)
      this.#change = { seconds: changeSeconds, untilMs: systemClock.nowMs() + changeSeconds * 1000 };
    this.#apply(atSeconds);
  }

  /** Sound that came with a shared screen or tab. */
  setInputStream(inputId: string, stream: MediaStream | null): void {
    this.#inputStreams.get(inputId)?.node?.disconnect();
    if (stream) this.#inputStreams.set(inputId, { stream, node: null });
    else this.#inputStreams.delete(inputId);
    this.#apply();
  }

  setSwitches(part: Partial<SoundSwitches>): void {
    const before = this.switches;
    this.switches = { ...before, ...part };
    if (part.monitor) this.#monitor?.set(part.monitor);
    if (part.windows) this.#setWindows(part.windows, before.windows.deviceId !== null);
    if (part.coughing !== undefined || part.talk !== undefined) this.#apply();
    else this.#sayDesk();
    this.onChange();
  }

  /** What nobody hears is not brought anywhere either. */
  #setWindows({ deviceId, gainDb }: SoundSwitches['windows'], heard: boolean): void {
    if (this.#side && heard !== (deviceId !== null)) {
      if (heard) this.#node?.disconnect(this.#side, 1);
      else this.#node?.connect(this.#side, 1);
    }
    this.#windows?.set({ deviceId, gainDb });
  }

  /** Whose chain is drawn and measured. */
  setFocus(channelId: string | null): void {
    this.#focus = channelId;
    this.#sayDesk();
  }

  /** Which microphone the echo finder listens to. */
  setEcho(channelId: string | null): void {
    if (this.#echo === channelId) return;
    this.#echo = channelId;
    this.#sayDesk();
  }

  /** A stinger begins: its sound goes through the channel of the effects. @param atSeconds of the programme */
  playStinger({ assetId }: Stinger, atSeconds: number): void {
    const sound = stingerSounds(this.#document).find((s) => s.id === `stinger ${assetId}`);
    // With the clip's first picture, and not before it.
    if (sound) this.#effects.play(sound, atSeconds + STINGER_LEAD_SECONDS);
  }

  /** An alert has begun: its sound goes through the channel of the effects, its words through that of speech. */
  playAlert(ruleId: string, words: string): void {
    const sound = alertSounds(this.#document).find((s) => s.id === ruleId);
    if (sound) this.#effects.play(sound);
    const rule = findRecord(this.#document, 'alertRule', ruleId);
    if (rule?.spoken)
      void this.#effects.speak(words).then((problem) => {
        if (problem === null) this.problems.delete(ruleId);
        else this.problems.set(ruleId, problem);
        this.onChange();
      });
  }

  playEffect(effect: EffectRecord): void {
    this.#effects.play(effect);
  }

  stopEffects(id: string | null, seconds: number): void {
    this.#effects.stop(id, seconds);
  }

  skipMusic(channelId: string): void {
    this.#players.skip(channelId);
  }

  /** What a guest hears, as a track; the same one as long as their place is theirs. Null before the sound has begun. */
  returnTrack(place: number): MediaStreamTrack | null {
    if (!this.#context || !this.#node) return null;
    let end = this.#returns.get(place);
    if (!end) {
      end = this.#context.createMediaStreamDestination();
      end.channelCount = 1;
      this.#node.connect(end, FIRST_RETURN + place);
      this.#returns.set(place, end);
    }
    return end.stream.getAudioTracks()[0];
  }

  /** Guests who get a return from now on; what nobody hears is not brought anywhere. */
  setHearers(hearers: readonly Hearer[]): void {
    this.#hearers = hearers;
    for (const [place, end] of [...this.#returns]) {
      if (hearers.some((one) => one.place === place)) continue;
      this.#node?.disconnect(end, FIRST_RETURN + place);
      this.#returns.delete(place);
    }
    this.#sayDesk();
  }

  stripOf(channelId: string): number | null {
    return this.#strips.get(channelId) ?? null;
  }

  resetProgramme(): void {
    this.#say({ type: 'resetProgramme' });
  }

  async close(): Promise<void> {
    this.#closed = true;
    this.#endRetries();
    for (const event of ['pointerdown', 'keydown'] as const) window.removeEventListener(event, this.#wake);
    this.#microphones.close();
    this.#players.close();
    this.#computer.close();
    this.#monitor?.close();
    this.#windows?.close();
    await this.#context?.close();
  }

  async #loadNoise(): Promise<ArrayBuffer | null> {
    try {
      const response = await fetch(noiseUrl);
      if (!response.ok) throw new Error(`status ${response.status}`);
      return await response.arrayBuffer();
    } catch (error) {
      this.noiseProblem = `Noise reduction could not be loaded (${error instanceof Error ? error.message : String(error)}): reload the studio.`;
      return null;
    }
  }

  #connect(stream: MediaStream, strip: number): MediaStreamAudioSourceNode | null {
    if (!this.#context || !this.#node) return null;
    const node = this.#context.createMediaStreamSource(stream);
    node.connect(this.#node, 0, strip);
    return node;
  }

  #openDevices(): void {
    if (!this.#node) return;
    const channels = recordsOf(this.#document, 'channel');
    this.#microphones.update(channels);
    this.#players.update(channels);
    this.#computer.update(channels);
    this.#effects.update([
      ...recordsOf(this.#document, 'effect'),
      ...alertSounds(this.#document),
      ...stingerSounds(this.#document),
    ]);
  }

  #setState(state: SoundState, message: string): void {
    this.state = state;
    this.message = message;
    this.onChange();
  }

  #fail(message: string): void {
    this.#setState('failed', `There is no sound: ${message}`);
  }

  #say(message: ToMixer, transfer: Transferable[] = []): void {
    this.#node?.port.postMessage(message, transfer);
  }

  #sayDesk(): void {
    const strip = (id: string | null) => (id === null ? -1 : (this.#strips.get(id) ?? -1));
    const now = { document: this.#document, programme: this.#programme };
    const listening = { focus: this.#focus, echo: this.#echo };
    const desk = deskSound(now, this.switches, this.#hearers, listening, strip);
    this.#say({ type: 'desk', desk });
  }

  /** @param atSeconds of the programme, when faders, mutes and scenes change; null for now */
  #apply(atSeconds: number | null = null): void {
    const channels = recordsOf(this.#document, 'channel');
    for (const id of assignStrips(this.#strips, channels))
      this.problems.set(id, `the mixer takes ${MAX_STRIPS} channels: remove one first`);
    if (!this.#node) return;
    const state = {
      document: this.#document,
      programme: this.#programme,
      changeSeconds: systemClock.nowMs() < this.#change.untilMs ? this.#change.seconds : 0,
      coughing: this.switches.coughing,
      talk: this.switches.talk,
      stripOf: (id: string) => this.#strips.get(id),
    };
    const orders = channels.flatMap((channel): StripOrder[] => {
      const index = this.#strips.get(channel.id);
      if (index === undefined) return [];
      return [{ index, source: this.#sourceOf(channel, index), settings: stripSettings(channel, state) }];
    });
    // The sound thread hears only of what changed: setting a chain up costs it time that it has little of.
    const put = orders.filter((order) => {
      const said = this.#said.get(order.index);
      const words = JSON.stringify(order);
      const ring = order.source.type === 'file' ? order.source.ring : null;
      if (said?.words === words && said.ring === ring) return false;
      this.#said.set(order.index, { words, ring });
      return true;
    });
    const removed = [...this.#said.keys()].filter((index) => !orders.some((o) => o.index === index));
    for (const index of removed) this.#said.delete(index);
    if (put.length > 0 || removed.length > 0) this.#say({ type: 'strips', put, removed, atSeconds });
    this.#sayDesk();
  }

  #sourceOf(channel: ChannelRecord, strip: number): StripOrder['source'] {
    const { source } = channel;
    if (source.type === 'effects' || source.type === 'speech') return source;
    if (source.type === 'microphone') return { type: 'graph', input: strip };
    if (source.type === 'music') return { type: 'file', ring: this.#players.ringOf(channel.id) };
    if (source.type === 'computer') return { type: 'file', ring: this.#computer.ringOf(channel.id) };
    if (source.type !== 'input') return { type: 'made', sound: source };
    const shared = this.#inputStreams.get(source.inputId);
    if (shared) {
      shared.node ??= this.#connect(shared.stream, strip);
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
}
