/**
 * A guest who is made up: a real connection with the desk, in this very page, with a picture and a voice that are made in
 * code. To rehearse an interview alone, also with guests whose connection is bad.
 */
import type { SimulatedPicture, SimulatedSound } from '../../core/show/records';
import {
  GONE_FOR_GOOD,
  type FromGuest,
  type GuestSignal,
  type IceServer,
  type ToGuest,
} from '../../protocol/guest';
import { createPainter } from '../inputs/pictures';
import type { Context } from '../inputs/pictures/painter';
import { createSound, SOUND_RATE } from '../inputs/sounds/generators';

const SIZE = { width: 640, height: 360 };
const FPS = 25;
/** What they say over and over, seconds. */
const SOUND_SECONDS = 24;
const BLOCK = 128;
/** One who drops is back after so long. */
const BACK_MS = 6000;
const ECHO_SECONDS = 0.25;
const ECHO_GAIN = 0.5;

/** What a guest's connection, or room, does wrong. */
export type Misbehaviour = 'freezes' | 'drops' | 'echoes';

export interface MadeUp {
  /** Where the wings listen. */
  url: string;
  name: string;
  picture: SimulatedPicture;
  sound: SimulatedSound;
}

export class MadeUpGuest {
  #socket: WebSocket | null = null;
  #pc: RTCPeerConnection | null = null;
  #ice: IceServer[] = [];
  #round = 0;
  #early: RTCIceCandidateInit[] = [];
  #frozen = false;
  #closed = false;
  readonly #canvas = document.createElement('canvas');
  readonly #context = new AudioContext({ sampleRate: SOUND_RATE });
  readonly #out = this.#context.createMediaStreamDestination();
  readonly #echo = new GainNode(this.#context, { gain: 0 });
  readonly #player = Object.assign(new Audio(), { muted: true });
  readonly #stream: MediaStream;
  readonly #timer: ReturnType<typeof setInterval>;
  #back: ReturnType<typeof setTimeout> | undefined;

  constructor(readonly of: MadeUp) {
    Object.assign(this.#canvas, SIZE);
    const painter = createPainter(of.picture);
    const context = this.#canvas.getContext('2d', { alpha: false }) as unknown as Context;
    const began = performance.now();
    const paint = () => {
      if (!this.#frozen) painter.paint(context, (performance.now() - began) / 1000, SIZE.width, SIZE.height);
    };
    paint();
    this.#timer = setInterval(paint, 1000 / FPS);
    this.#speak();
    this.#echo
      .connect(new DelayNode(this.#context, { delayTime: ECHO_SECONDS, maxDelayTime: 1 }))
      .connect(this.#out);
    this.#stream = new MediaStream([
      ...this.#canvas.captureStream(FPS).getVideoTracks(),
      ...this.#out.stream.getAudioTracks(),
    ]);
    this.#connect();
  }

  misbehave(how: Misbehaviour): void {
    if (how === 'freezes') this.#frozen = !this.#frozen;
    else if (how === 'echoes') this.#echo.gain.value = this.#echo.gain.value === 0 ? ECHO_GAIN : 0;
    else {
      this.#hangUp();
      this.#socket?.close();
    }
  }

  close(): void {
    this.#closed = true;
    clearInterval(this.#timer);
    clearTimeout(this.#back);
    this.#hangUp();
    this.#socket?.close(GONE_FOR_GOOD);
    void this.#context.close();
  }

  #say(message: FromGuest): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(message));
  }

  #speak(): void {
    const frames = SOUND_SECONDS * SOUND_RATE;
    const buffer = new AudioBuffer({ length: frames, numberOfChannels: 1, sampleRate: SOUND_RATE });
    const voice = createSound(this.of.sound);
    const left = buffer.getChannelData(0);
    const right = new Float32Array(BLOCK);
    for (let at = 0; at + BLOCK <= frames; at += BLOCK)
      voice.render(at, left.subarray(at, at + BLOCK), right, BLOCK);
    const source = new AudioBufferSourceNode(this.#context, { buffer, loop: true });
    source.connect(this.#out);
    source.start();
    void this.#context.resume();
  }

  #connect(): void {
    const socket = new WebSocket(this.of.url);
    this.#socket = socket;
    socket.onmessage = ({ data }: MessageEvent<string>) => {
      const message = JSON.parse(data) as ToGuest;
      if (message.type === 'welcome') {
        this.#ice = message.ice;
        this.#say({ type: 'ready', name: this.of.name, connected: false });
      } else if (message.type === 'call') void this.#call();
      // A candidate that cannot be used is none.
      else if (message.type === 'signal') void this.#hear(message.signal).catch(() => undefined);
    };
    socket.onclose = ({ code }) => {
      this.#hangUp();
      // Sent away for good, or back after a while.
      if (code === 1008 || this.#closed) return;
      this.#back = setTimeout(() => this.#connect(), BACK_MS);
    };
  }

  async #call(): Promise<void> {
    this.#hangUp();
    const round = ++this.#round;
    const pc = new RTCPeerConnection({ iceServers: this.#ice, bundlePolicy: 'max-bundle' });
    this.#pc = pc;
    pc.onicecandidate = ({ candidate }) => {
      const { candidate: words = '', sdpMid = null, sdpMLineIndex = null } = candidate ?? {};
      const said = candidate && { candidate: words, sdpMid, sdpMLineIndex };
      this.#say({ type: 'signal', signal: { type: 'candidate', round, candidate: said } });
    };
    pc.ontrack = ({ track }) => {
      // What they hear comes out of loudspeakers, and into their microphone.
      if (track.kind !== 'audio') return;
      const heard = new MediaStream([track]);
      // A remote track that nothing plays may stay silent.
      this.#player.srcObject = heard;
      void this.#player.play().catch(() => undefined);
      this.#context.createMediaStreamSource(heard).connect(this.#echo);
    };
    for (const track of this.#stream.getTracks())
      pc.addTransceiver(track, { direction: 'sendrecv', streams: [this.#stream] });
    await pc.setLocalDescription();
    if (this.#pc === pc)
      this.#say({ type: 'signal', signal: { type: 'offer', round, sdp: pc.localDescription!.sdp } });
  }

  async #hear(signal: GuestSignal): Promise<void> {
    const pc = this.#pc;
    if (!pc || signal.round !== this.#round) return;
    if (signal.type === 'candidate') {
      if (!signal.candidate) return;
      if (pc.remoteDescription) await pc.addIceCandidate(signal.candidate);
      else this.#early.push(signal.candidate);
      return;
    }
    if (signal.type !== 'answer' || pc.signalingState !== 'have-local-offer') return;
    await pc.setRemoteDescription({ type: 'answer', sdp: signal.sdp });
    for (const candidate of this.#early.splice(0)) await pc.addIceCandidate(candidate);
  }

  #hangUp(): void {
    this.#early = [];
    this.#pc?.close();
    this.#pc = null;
  }
}
