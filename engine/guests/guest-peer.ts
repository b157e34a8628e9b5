import type { GuestSignal, IceServer } from '../../protocol/guest';
import type { GuestLink } from './room-engine';

/** A picture that has not changed for so long stands still: the seat says so in its place. */
const FROZEN_MS = 1600;
/** What a guest is sent back: enough to follow the show by. */
const RETURN_BPS = 300_000;
const RETURN_FPS = 15;
/** What is held back against unsteady networks, at least, ms. */
const JITTER_MS = 40;

export interface PeerParts {
  ice: readonly IceServer[];
  say: (signal: GuestSignal) => void;
  /** What goes back to them; null where there is nothing to send. */
  sound: MediaStreamTrack | null;
  picture: MediaStreamTrack | null;
  nowMs: () => number;
  changed: () => void;
}

/** The desk's end of one guest's connection: answers their offer, and watches how it does. */
export class GuestPeer {
  readonly link: GuestLink = {
    ...{ state: 'connecting', roundTripMs: null, loss: 0 },
    ...{ width: 0, height: 0, fps: 0, stream: null },
  };
  picture: MediaStreamTrack | null = null;
  sound: MediaStreamTrack | null = null;
  readonly #pc: RTCPeerConnection;
  readonly #stream = new MediaStream();
  #pictureSender: RTCRtpSender | null = null;
  #soundSender: RTCRtpSender | null = null;
  #early: RTCIceCandidateInit[] = [];
  #frames = { count: -1, atMs: 0 };
  #packets = { lost: 0, received: 0 };
  #closed = false;

  constructor(
    readonly round: number,
    readonly parts: PeerParts,
  ) {
    this.#pc = new RTCPeerConnection({ iceServers: [...parts.ice], bundlePolicy: 'max-bundle' });
    this.#pc.ontrack = ({ track, receiver }) => this.#take(track, receiver);
    this.#pc.onicecandidate = ({ candidate }) =>
      parts.say({
        ...{ type: 'candidate', round },
        candidate: candidate && {
          candidate: candidate.candidate,
          sdpMid: candidate.sdpMid,
          sdpMLineIndex: candidate.sdpMLineIndex,
        },
      });
    this.#pc.onconnectionstatechange = () => this.#changed();
  }

  async answer(sdp: string): Promise<void> {
    const pc = this.#pc;
    await pc.setRemoteDescription({ type: 'offer', sdp });
    for (const transceiver of pc.getTransceivers()) {
      const { kind } = transceiver.receiver.track;
      const own = kind === 'audio' ? this.parts.sound : this.parts.picture;
      transceiver.direction = 'sendrecv';
      await transceiver.sender.replaceTrack(own);
      if (kind === 'video') this.#pictureSender = transceiver.sender;
      else this.#soundSender = transceiver.sender;
    }
    await pc.setLocalDescription();
    if (this.#closed) return;
    this.parts.say({ type: 'answer', round: this.round, sdp: pc.localDescription!.sdp });
    await this.#limitPicture();
    for (const candidate of this.#early.splice(0)) await pc.addIceCandidate(candidate);
  }

  async candidate(candidate: RTCIceCandidateInit | null): Promise<void> {
    if (!candidate) return;
    if (this.#pc.remoteDescription) await this.#pc.addIceCandidate(candidate);
    else this.#early.push(candidate);
  }

  /** This goes back to them from now on. */
  async setReturn(picture: MediaStreamTrack | null, sound: MediaStreamTrack | null): Promise<void> {
    for (const [sender, track] of [
      [this.#pictureSender, picture],
      [this.#soundSender, sound],
    ] as const)
      if (!this.#closed && sender && sender.track !== track) await sender.replaceTrack(track);
  }

  /** To be called every second: how the connection does. */
  async measure(cameraOff: boolean): Promise<void> {
    if (this.#closed) return;
    const { link } = this;
    const nowMs = this.parts.nowMs();
    let lost = 0;
    let received = 0;
    (await this.#pc.getStats()).forEach((stat: Record<string, unknown>) => {
      const figure = (name: string) => (typeof stat[name] === 'number' ? stat[name] : 0);
      if (stat.type === 'candidate-pair' && stat.nominated === true)
        link.roundTripMs = Math.round(figure('currentRoundTripTime') * 1000);
      if (stat.type !== 'inbound-rtp') return;
      lost += figure('packetsLost');
      received += figure('packetsReceived');
      if (stat.kind !== 'video') return;
      link.width = figure('frameWidth');
      link.height = figure('frameHeight');
      link.fps = Math.round(figure('framesPerSecond'));
      const frames = figure('framesDecoded');
      if (frames !== this.#frames.count) this.#frames = { count: frames, atMs: nowMs };
    });
    const all = lost + received - this.#packets.lost - this.#packets.received;
    link.loss = all <= 0 ? 0 : Math.max(0, lost - this.#packets.lost) / all;
    this.#packets = { lost, received };
    if (link.state === 'there' || link.state === 'frozen') {
      const still = this.picture !== null && !cameraOff && nowMs - this.#frames.atMs > FROZEN_MS;
      link.state = still ? 'frozen' : 'there';
    }
    this.parts.changed();
  }

  close(): void {
    if (this.#closed) return;
    this.#closed = true;
    this.#pc.close();
    this.link.state = 'lost';
    this.link.stream = null;
    this.picture = null;
    this.sound = null;
  }

  #take(track: MediaStreamTrack, receiver: RTCRtpReceiver): void {
    if ('jitterBufferTarget' in receiver) receiver.jitterBufferTarget = JITTER_MS;
    this.#stream.addTrack(track);
    if (track.kind === 'video') this.picture = track;
    else this.sound = track;
    this.#frames = { count: -1, atMs: this.parts.nowMs() };
    this.link.stream = this.#stream;
    this.parts.changed();
  }

  #changed(): void {
    const { connectionState } = this.#pc;
    if (this.#closed) return;
    if (connectionState === 'connected') {
      this.#frames = { ...this.#frames, atMs: this.parts.nowMs() };
      this.link.state = 'there';
    } else if (connectionState === 'disconnected' || connectionState === 'failed') this.link.state = 'lost';
    this.parts.changed();
  }

  async #limitPicture(): Promise<void> {
    const sender = this.#pictureSender;
    const parameters = sender?.getParameters();
    if (!sender || !parameters || parameters.encodings.length === 0) return;
    for (const encoding of parameters.encodings) {
      encoding.maxBitrate = RETURN_BPS;
      encoding.maxFramerate = RETURN_FPS;
    }
    await sender.setParameters(parameters);
  }
}
