import type { Cancel } from '../../core/time/clock';
import { systemClock } from '../system-clock';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { InputRecord } from '../../core/show/records';
import {
  controlConstraints,
  controlsOffered,
  fpsOffered,
  hasAutomatic,
  proposedMode,
  sizesOffered,
  type CameraControl,
  type CameraControls,
  type CameraMode,
  type Capabilities,
  type ControlRange,
} from '../../core/inputs/camera-controls';
import { explainDeviceError } from './device-error';
import { deviceHere } from './device-match';

/** Devices are tried again this often while one is missing or busy; plugging in is noticed at once. */
const RETRY_MS = 5000;

interface Open {
  identity: string;
  stream: MediaStream | null;
  problem: string | null;
  opening: boolean;
  /** What it was asked for by hand last, and whether it did not take that. */
  controls: CameraControls;
  refused: boolean;
}

/** What a camera that runs tells of itself. */
export interface CameraFacts {
  sizes: { width: number; height: number }[];
  /** At most; null when it does not tell. */
  fps: number | null;
  /** What it gives now. */
  gives: { width: number; height: number; fps: number };
  /** It did not take what was set by hand last. */
  refused: boolean;
  controls: { control: CameraControl; range: ControlRange; value: number | null; automatic: boolean }[];
  /** What suits a frame at a rate. */
  proposed: (frame: { width: number; height: number }, fps: number) => CameraMode;
}

const SHUT = { stream: null, problem: null, opening: false, controls: {}, refused: false };

/** Cameras and screens of a show: opened when an input asks for them, tried again when they are missing. */
export class CaptureDevices {
  readonly #open = new Map<string, Open>();
  #inputs: InputRecord[] = [];
  readonly #endRetries: Cancel;
  readonly #onDevices = () => this.retry();

  constructor(
    readonly onTrack: (inputId: string, frames: ReadableStream<VideoFrame>) => void,
    readonly onProblem: (inputId: string, problem: string | null) => void,
    /** Sound that came with a screen or tab. */
    readonly onSound: (inputId: string, stream: MediaStream | null) => void,
  ) {
    this.#endRetries = systemClock.every(RETRY_MS, () => this.retry());
    navigator.mediaDevices?.addEventListener('devicechange', this.#onDevices);
  }

  /** @param shown inputs that a scene on air or in the editor shows; others are open only when kept ready */
  setDocument(document: ShowDocument, shown: ReadonlySet<string>): void {
    this.#inputs = recordsOf(document, 'input').filter(
      (i) =>
        (i.source.type === 'camera' && (i.keepReady || shown.has(i.id))) ||
        // A screen that was given up would have to be asked for again: it stays.
        i.source.type === 'screen',
    );
    for (const id of [...this.#open.keys()]) if (!this.#inputs.some((i) => i.id === id)) this.#close(id);
    for (const input of this.#inputs) {
      const { source } = input;
      const identity =
        source.type === 'camera'
          ? [source.deviceId, source.width, source.height, source.fps].join('|')
          : 'screen';
      const open = this.#open.get(input.id);
      if (open?.identity === identity) {
        if (source.type === 'camera') this.#control(open, source.controls);
        continue;
      }
      if (open) this.#close(input.id);
      this.#open.set(input.id, { ...SHUT, identity });
      if (source.type === 'camera') void this.#openCamera(input);
      else this.#fail(input.id, 'choose the screen or window again: browsers ask again after every reload');
    }
  }

  /** Tries every camera that is not there. */
  retry(): void {
    for (const input of this.#inputs) {
      const open = this.#open.get(input.id);
      if (input.source.type === 'camera' && open && !open.stream) void this.#openCamera(input);
    }
  }

  /**
   * Asks the user for a screen, window or tab; needs a click.
   * @param fps pictures a second at most: those of the plan, since more would be taken and thrown away
   * @returns the stream, or why there is none
   */
  static async askScreen(
    surface: 'screen' | 'window' | 'region',
    fps: number,
  ): Promise<{ stream: MediaStream } | { problem: string }> {
    try {
      return {
        stream: await navigator.mediaDevices.getDisplayMedia({
          video: { frameRate: fps, displaySurface: surface === 'window' ? 'window' : 'monitor' },
          audio: true,
        }),
      };
    } catch (error) {
      return { problem: explainDeviceError(error, 'Sharing the screen') };
    }
  }

  useScreen(inputId: string, stream: MediaStream): void {
    const open = this.#open.get(inputId) ?? { ...SHUT, identity: 'screen' };
    this.#open.set(inputId, open);
    this.#use(inputId, open, stream, 'The shared screen or window was closed: choose it again');
    this.onSound(inputId, stream.getAudioTracks().length > 0 ? stream : null);
  }

  /** Inputs that capture a whole screen, on which this studio may be seen. */
  wholeScreens(): string[] {
    return [...this.#open].flatMap(([id, { stream }]) =>
      stream?.getVideoTracks()[0]?.getSettings().displaySurface === 'monitor' ? [id] : [],
    );
  }

  /** What the camera of an input can do; null while it does not run. */
  camera(inputId: string): CameraFacts | null {
    const open = this.#open.get(inputId);
    const track = open?.stream?.getVideoTracks()[0];
    if (!track || open?.identity === 'screen') return null;
    const capabilities = track.getCapabilities() as Capabilities;
    const settings = track.getSettings() as Record<string, number | undefined>;
    return {
      sizes: sizesOffered(capabilities),
      fps: fpsOffered(capabilities),
      gives: { width: settings.width ?? 0, height: settings.height ?? 0, fps: settings.frameRate ?? 0 },
      refused: open.refused,
      controls: [...controlsOffered(capabilities)].map(([control, range]) => ({
        ...{ control, range, value: settings[control] ?? null },
        automatic: hasAutomatic(control, capabilities),
      })),
      proposed: (frame, fps) => proposedMode(capabilities, frame, fps),
    };
  }

  /** Sets what is set by hand. A camera that refuses one thing takes the others. */
  #control(open: Open, controls: CameraControls): void {
    const track = open.stream?.getVideoTracks()[0];
    if (!track || JSON.stringify(controls) === JSON.stringify(open.controls)) return;
    const sets = controlConstraints(controls, open.controls, track.getCapabilities() as Capabilities);
    open.controls = controls;
    // Without what it is asked for now it would go back to a size of its own.
    const { width, height, frameRate } = track.getConstraints();
    void track
      .applyConstraints({ width, height, frameRate, advanced: sets as MediaTrackConstraintSet[] })
      .then(
        () => (open.refused = false),
        // It goes on as it was, and that is said beside its settings.
        () => (open.refused = true),
      );
  }

  close(): void {
    this.#endRetries();
    navigator.mediaDevices?.removeEventListener('devicechange', this.#onDevices);
    for (const id of [...this.#open.keys()]) this.#close(id);
  }

  async #openCamera(input: InputRecord): Promise<void> {
    const open = this.#open.get(input.id);
    const { source } = input;
    if (!open || open.opening || source.type !== 'camera') return;
    open.opening = true;
    try {
      const deviceId = await deviceHere('videoinput', source.deviceId, source.deviceLabel);
      const stream = await navigator.mediaDevices.getUserMedia({
        video: {
          deviceId: deviceId === '' ? undefined : { exact: deviceId },
          width: { ideal: source.width },
          height: { ideal: source.height },
          frameRate: { ideal: source.fps },
          // Where a camera can be moved, a browser lets it be only when it was asked at once.
          ...({ pan: true, tilt: true, zoom: true } as MediaTrackConstraints),
        },
      });
      if (this.#open.get(input.id) !== open) {
        for (const track of stream.getTracks()) track.stop();
        return;
      }
      this.#use(
        input.id,
        open,
        stream,
        `${source.deviceLabel || 'The camera'} was unplugged: it returns automatically`,
      );
      open.controls = {};
      this.#control(open, source.controls);
    } catch (error) {
      this.#fail(input.id, explainDeviceError(error, source.deviceLabel || 'The camera'));
    } finally {
      open.opening = false;
    }
  }

  #use(inputId: string, open: Open, stream: MediaStream, whenEnded: string): void {
    for (const track of open.stream?.getTracks() ?? []) track.stop();
    open.stream = stream;
    open.problem = null;
    const [track] = stream.getVideoTracks();
    track.addEventListener('ended', () => {
      if (open.stream !== stream) return;
      open.stream = null;
      this.#fail(inputId, whenEnded);
      this.onSound(inputId, null);
    });
    this.onTrack(inputId, new MediaStreamTrackProcessor({ track }).readable);
  }

  #fail(inputId: string, problem: string): void {
    const open = this.#open.get(inputId);
    if (!open || open.problem === problem) return;
    open.problem = problem;
    this.onProblem(inputId, problem);
  }

  #close(id: string): void {
    for (const track of this.#open.get(id)?.stream?.getTracks() ?? []) track.stop();
    this.#open.delete(id);
  }
}
