import type { GuestSignal, IceServer } from '../../../protocol/guest';

/** A connection that is not there after this long, or is gone for this long, is begun anew. */
const MOST_MS = 12_000;
const GONE_MS = 3000;
/** What a picture of a guest may take: it stands in a part of the frame. */
const VIDEO_BPS = 1_200_000;
const AUDIO_BPS = 96_000;

export type CallState = 'none' | 'connecting' | 'there' | 'lost';

export interface CallParts {
  say: (signal: GuestSignal) => void;
  track: (kind: 'audio' | 'video') => MediaStreamTrack | null;
  onReturn: (stream: MediaStream) => void;
  onState: (state: CallState, tries: number) => void;
}

/** The connection with the desk: offered by the guest, begun anew by itself whenever it is lost. */
export class Call {
  ice: IceServer[] = [];
  /** Only by the relay: nobody in the show learns the guest's address. */
  relayOnly = false;
  #round = 0;
  #pc: RTCPeerConnection | null = null;
  #early: (GuestSignal & { type: 'candidate' })[] = [];
  #timer: ReturnType<typeof setTimeout> | undefined;
  #tries = 0;

  constructor(readonly parts: CallParts) {}

  /** Begins anew, whatever was before. */
  async begin(): Promise<void> {
    this.#end();
    const round = ++this.#round;
    const pc = new RTCPeerConnection({
      ...{ iceServers: this.ice, bundlePolicy: 'max-bundle' },
      iceTransportPolicy: this.relayOnly ? 'relay' : 'all',
    });
    this.#pc = pc;
    this.parts.onState(this.#tries === 0 ? 'connecting' : 'lost', this.#tries);
    const back = new MediaStream();
    pc.ontrack = ({ track }) => {
      back.addTrack(track);
      this.parts.onReturn(back);
    };
    pc.onicecandidate = ({ candidate }) => {
      if (this.#round !== round) return;
      const said = candidate && {
        candidate: candidate.candidate,
        sdpMid: candidate.sdpMid,
        sdpMLineIndex: candidate.sdpMLineIndex,
      };
      this.parts.say({ type: 'candidate', round, candidate: said });
    };
    pc.onconnectionstatechange = () => this.#changed(round, pc);
    this.#again(round, MOST_MS);
    const { track } = this.parts;
    pc.addTransceiver(track('audio') ?? 'audio', {
      direction: 'sendrecv',
      sendEncodings: [{ maxBitrate: AUDIO_BPS, priority: 'high', networkPriority: 'high' }],
    });
    const video = pc.addTransceiver(track('video') ?? 'video', {
      direction: 'sendrecv',
      sendEncodings: [{ maxBitrate: VIDEO_BPS, priority: 'low' }],
    });
    // What comes back is small; what goes there loses sharpness before it loses movement.
    if (video.sender.track) video.sender.track.contentHint = 'motion';
    await pc.setLocalDescription();
    if (this.#round === round) this.parts.say({ type: 'offer', round, sdp: pc.localDescription!.sdp });
  }

  async hear(signal: GuestSignal): Promise<void> {
    const pc = this.#pc;
    if (!pc || signal.round !== this.#round) return;
    if (signal.type === 'candidate') {
      if (pc.remoteDescription) await pc.addIceCandidate(signal.candidate ?? undefined);
      else this.#early.push(signal);
      return;
    }
    if (signal.type !== 'answer' || pc.signalingState !== 'have-local-offer') return;
    await pc.setRemoteDescription({ type: 'answer', sdp: signal.sdp });
    for (const { candidate } of this.#early.splice(0)) await pc.addIceCandidate(candidate ?? undefined);
  }

  /** Another device was chosen, or one is back. */
  replaceTracks(): void {
    for (const { sender, receiver } of this.#pc?.getTransceivers() ?? [])
      void sender.replaceTrack(this.parts.track(receiver.track.kind as 'audio' | 'video'));
  }

  /** How long words take there and back, ms; null while that is not known. */
  async roundTripMs(): Promise<number | null> {
    let ms: number | null = null;
    (await this.#pc?.getStats())?.forEach((stat: Record<string, unknown>) => {
      if (
        stat.type === 'candidate-pair' &&
        stat.nominated === true &&
        typeof stat.currentRoundTripTime === 'number'
      )
        ms = Math.round(stat.currentRoundTripTime * 1000);
    });
    return ms;
  }

  close(): void {
    this.#round += 1;
    this.#end();
    this.parts.onState('none', 0);
  }

  #changed(round: number, pc: RTCPeerConnection): void {
    if (this.#round !== round) return;
    if (pc.connectionState === 'connected') {
      clearTimeout(this.#timer);
      this.#tries = 0;
      this.parts.onState('there', 0);
    } else if (pc.connectionState === 'disconnected' || pc.connectionState === 'failed') {
      this.parts.onState('lost', this.#tries);
      this.#again(round, pc.connectionState === 'failed' ? 500 : GONE_MS);
    }
  }

  #again(round: number, ms: number): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      if (this.#round !== round || this.#pc?.connectionState === 'connected') return;
      this.#tries += 1;
      void this.begin();
    }, ms);
  }

  #end(): void {
    clearTimeout(this.#timer);
    this.#early = [];
    this.#pc?.close();
    this.#pc = null;
  }
}
