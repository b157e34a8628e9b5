import type { ChannelRecord } from '../../core/show/records';
import { explainDeviceError } from '../inputs/device-error';
import { deviceHere } from '../inputs/device-match';

interface Microphone {
  /** What it was opened for; another device or another way of capture opens it anew. */
  wanted: string;
  stream: MediaStream | null;
  node: MediaStreamAudioSourceNode | null;
  opening: boolean;
}

type MicrophoneChannel = ChannelRecord & { source: { type: 'microphone' } };

export function isMicrophone(channel: ChannelRecord): channel is MicrophoneChannel {
  return channel.source.type === 'microphone';
}

/** Opens the microphones that channels want, and again when they come back. */
export class Microphones {
  readonly #open = new Map<string, Microphone>();

  constructor(
    readonly connect: (channelId: string, stream: MediaStream) => MediaStreamAudioSourceNode | null,
    /** Words for the user, or null when all is well. */
    readonly tell: (channelId: string, problem: string | null) => void,
  ) {}

  update(channels: readonly ChannelRecord[]): void {
    const wanted = channels.filter(isMicrophone);
    for (const [id, { wanted: before }] of this.#open) {
      const channel = wanted.find((c) => c.id === id);
      if (!channel || before !== wish(channel)) this.#close(id);
    }
    for (const channel of wanted) {
      const known = this.#open.get(channel.id);
      if (!known?.stream && !known?.opening) void this.#openOne(channel);
    }
  }

  close(): void {
    for (const id of [...this.#open.keys()]) this.#close(id);
  }

  async #openOne(channel: MicrophoneChannel): Promise<void> {
    const { source } = channel;
    const name = source.deviceLabel || 'The microphone';
    const microphone: Microphone = { wanted: wish(channel), stream: null, node: null, opening: true };
    this.#open.set(channel.id, microphone);
    try {
      const deviceId = await deviceHere('audioinput', source.deviceId, source.deviceLabel);
      const stream = await navigator.mediaDevices.getUserMedia({
        audio: {
          deviceId: deviceId === '' ? undefined : { exact: deviceId },
          // Raw by default: the browser's own processing pumps and cuts; the voice chain is ours.
          echoCancellation: source.processed,
          noiseSuppression: source.processed,
          autoGainControl: source.processed,
        },
      });
      const node = this.#open.get(channel.id) === microphone ? this.connect(channel.id, stream) : null;
      if (!node) {
        for (const track of stream.getTracks()) track.stop();
        return;
      }
      microphone.stream = stream;
      microphone.node = node;
      const track = stream.getAudioTracks()[0];
      track.addEventListener('ended', () => {
        this.#close(channel.id);
        this.tell(channel.id, `${name} was unplugged: it returns automatically`);
      });
      // Muted by the system or by a switch on the device: it is there and gives nothing.
      track.addEventListener('mute', () =>
        this.tell(channel.id, `${name} gives no sound: look for a mute switch on it`),
      );
      track.addEventListener('unmute', () => this.tell(channel.id, null));
      this.tell(channel.id, null);
    } catch (error) {
      this.tell(channel.id, explainDeviceError(error, name));
    } finally {
      microphone.opening = false;
    }
  }

  #close(id: string): void {
    const microphone = this.#open.get(id);
    microphone?.node?.disconnect();
    for (const track of microphone?.stream?.getTracks() ?? []) track.stop();
    this.#open.delete(id);
  }
}

function wish({ source }: MicrophoneChannel): string {
  return `${source.deviceId} ${source.processed}`;
}
