import { WORDS } from './words';

/** What was chosen; empty for whatever the system has first. */
export interface Chosen {
  camera: string;
  microphone: string;
  /** Nothing of the show comes back into the microphone: the browser need not take it out again. */
  headphones: boolean;
}

/** Pictures as large as a place in a show needs: more is not sent by anybody. */
const PICTURE = { width: { ideal: 1280 }, height: { ideal: 720 }, frameRate: { ideal: 30, max: 30 } };

/** The guest's own camera and microphone, and how loud they are. */
export class OwnDevices {
  readonly stream = new MediaStream();
  chosen: Chosen = { camera: '', microphone: '', headphones: false };
  /** Why something is missing, in words; null when both are there. */
  problem: string | null = null;
  #context: AudioContext | null = null;
  #analyser: AnalyserNode | null = null;
  #source: MediaStreamAudioSourceNode | null = null;
  #samples = new Float32Array(1024);

  constructor(readonly onChange: () => void) {}

  track(kind: 'audio' | 'video'): MediaStreamTrack | null {
    return this.stream.getTracks().find((track) => track.kind === kind) ?? null;
  }

  /** Opens what was chosen anew. One of both is enough to come in with. */
  async open(): Promise<void> {
    for (const track of this.stream.getTracks()) {
      track.stop();
      this.stream.removeTrack(track);
    }
    const media = navigator.mediaDevices as MediaDevices | undefined;
    if (!media) {
      this.problem = WORDS.noDevices;
      return this.onChange();
    }
    const { camera, microphone, headphones } = this.chosen;
    const own = (id: string) => (id === '' ? {} : { deviceId: { exact: id } });
    const video = { ...own(camera), ...PICTURE };
    const audio = {
      ...own(microphone),
      ...{ echoCancellation: !headphones, noiseSuppression: !headphones, autoGainControl: !headphones },
    };
    this.problem = null;
    try {
      this.#take(await media.getUserMedia({ video, audio }));
    } catch (error) {
      // One that is missing must not cost the other; one that was refused must be asked for again.
      const name = error instanceof DOMException ? error.name : '';
      this.problem = deviceWords(error);
      if (name !== 'NotAllowedError')
        for (const one of [{ audio }, { video }])
          try {
            this.#take(await media.getUserMedia(one));
          } catch {
            // Said above, in the words of both.
          }
      if (this.track('audio') && !this.track('video')) this.problem = WORDS.onlySound;
      if (this.track('video') && !this.track('audio')) this.problem = WORDS.onlyPicture;
    }
    this.#listen();
    this.onChange();
  }

  /** Devices to choose from; they have names once something was allowed. */
  async list(kind: 'videoinput' | 'audioinput'): Promise<MediaDeviceInfo[]> {
    const media = navigator.mediaDevices as MediaDevices | undefined;
    return ((await media?.enumerateDevices()) ?? []).filter(
      (device) => device.kind === kind && device.deviceId,
    );
  }

  /** Peak of the last moment, dBFS; null without a microphone. */
  level(): number | null {
    if (!this.#analyser) return null;
    this.#analyser.getFloatTimeDomainData(this.#samples);
    let peak = 0;
    for (const sample of this.#samples) peak = Math.max(peak, Math.abs(sample));
    return peak > 0 ? 20 * Math.log10(peak) : -120;
  }

  /** After a click: browsers let sound run only then. */
  resume(): void {
    void this.#context?.resume();
  }

  #take(stream: MediaStream): void {
    for (const track of stream.getTracks()) {
      this.stream.addTrack(track);
      track.addEventListener('ended', () => {
        this.stream.removeTrack(track);
        this.problem = track.kind === 'video' ? WORDS.onlySound : WORDS.onlyPicture;
        this.onChange();
      });
    }
  }

  #listen(): void {
    this.#source?.disconnect();
    this.#source = null;
    if (!this.track('audio')) {
      this.#analyser = null;
      return;
    }
    this.#context ??= new AudioContext();
    this.#analyser ??= new AnalyserNode(this.#context, { fftSize: 1024 });
    this.#source = this.#context.createMediaStreamSource(this.stream);
    this.#source.connect(this.#analyser);
  }
}

function deviceWords(error: unknown): string {
  const name = error instanceof DOMException ? error.name : '';
  const words: Partial<Record<string, string | ((why: string) => string)>> = WORDS.device;
  const own = words[name];
  return typeof own === 'string'
    ? own
    : WORDS.device.other(error instanceof Error ? error.message : String(error));
}
