/** What the page and its workers say to each other. Streams, canvases and ports travel in transfer lists. */
import type { StreamColour } from '../core/media/avc-colour';
import type { AlertOrder, KeptAlert } from '../core/audience/alert-engine';
import type { BookSnapshot } from '../core/audience/book';
import type { AudienceEvent, ChatMessage, Moderation } from '../core/audience/events';
import type { PollResult } from '../core/audience/own-poll';
import type { EncodeId } from '../core/delivery/encodes';
import type { PlanSettings } from '../core/delivery/settings';
import type { GovernorReport } from '../core/delivery/rate-governor';
import type { MediaPacket } from '../core/media/interleaver';
import type { Rect, Size } from '../core/geometry/rect';
import type { Opening } from '../core/picture/opening';
import type { Transition } from '../core/show/motion-records';
import type { Stop } from '../core/motion/programme';
import type { ProgrammeCommand } from '../core/programme/commands';
import type { Replay } from '../core/programme/moment';
import type { AnyRecord, FrameName } from '../core/show/records';
import type { CameraFormat } from './camera';
import type { SoundMemory } from './shared-sound';
import type { ConfigMessage } from './uplink';

/** What a view in the page shows. `edit` is the scene in the editor. */
export type ViewSubject = { frame: FrameName } & (
  | { type: 'onAir' }
  | { type: 'edit' }
  /** One of its poses, or its first one. */
  | ({ type: 'scene' } & Stop)
  /** `bare`: before it is coloured, to compare. */
  | { type: 'input'; inputId: string; bare?: boolean }
  /** An alert again and again, seen here alone. */
  | { type: 'alertPreview'; ruleId: string }
);

/** From the press to a stinger's first picture, seconds: its clip is then decoded (ClipsSource). Its sound waits as long. */
export const STINGER_LEAD_SECONDS = 0.15;

export interface EncodePlan {
  /** WebCodecs codec string that the browser has said it can encode. */
  codec: string;
  width: number;
  height: number;
  fps: number;
  kbps: number;
  keyframeSeconds: number;
  effort: PlanSettings['effort'];
  encoder: PlanSettings['encoder'];
  /** How the encoder's planes are to be read; the stream says so. Null where that is not known: it says what it says. */
  colour: StreamColour | null;
}

/** What the stage is told about viewers. */
export type ToLiveAudience =
  /** `cameMs`: when the page got them, by its own clock; a platform's clock may be off. */
  | { type: 'audience'; events: AudienceEvent[]; cameMs: number }
  | { type: 'book'; book: BookSnapshot; chat: ChatMessage[] }
  | { type: 'moderation'; moderation: Moderation }
  | { type: 'viewers'; platform: string; viewers: number | null }
  | { type: 'readOut'; message: ChatMessage | null }
  /** The show's own poll while it runs; null when none does. */
  | { type: 'ownPoll'; poll: PollResult | null }
  | { type: 'alertOrder'; order: AlertOrder }
  /** What waited when the page was open before; comes before the book. */
  | { type: 'keptAlerts'; kept: KeptAlerts }
  /** Channels that are voices, and their strips of the mixer. */
  | { type: 'voices'; voices: { strip: number; name: string }[] }
  | { type: 'broadcast'; sinceMs: number | null }
  /** When the music that plays will be over. */
  | { type: 'music'; endsAtMs: number | null };

/** Alerts that wait, and the last entry that was looked at: for a page that is opened again. */
export interface KeptAlerts {
  savedMs: number;
  lastSeq: number;
  paused: boolean;
  muted: boolean;
  waiting: KeptAlert[];
}

/** How the queue of alerts does. */
export interface AlertQueueReport {
  /** What is on the picture, in words; null for nothing. */
  running: string | null;
  waiting: number;
  paused: boolean;
  /** The scene on air wants none, or has no place for them. */
  quiet: boolean;
  muted: boolean;
  shown: number;
  merged: number;
  limited: number;
  /** From the last event whose alert did not have to wait to its first picture, ms; null before one. */
  lagMs: number | null;
}

export type ToStage =
  | { type: 'start'; sound: SoundMemory; fonts: { family: string; url: string }[] }
  /** What changed in the show since the last message; the first one brings all of it. */
  | { type: 'document'; put: AnyRecord[]; removed: string[] }
  /** Sizes of the frames that are made; one that is left out is not composed. */
  | { type: 'size'; frames: Partial<Record<FrameName, Size>>; fps: number }
  /**
   * To take hold together at the next picture, which `stamped` answers. `sinceMs`: what is taken has been on air since then
   * already, from before this page was opened.
   */
  | { type: 'commands'; id: number; commands: readonly ProgrammeCommand[]; sinceMs?: number }
  | ({ type: 'edit' } & Stop)
  /**
   * Plays in the editor how it gets from one stop to the other, where viewers do not see it. `transition` null: a glide.
   * `onlyLayer`: just this layer enters, or leaves.
   */
  | {
      type: 'tryOut';
      from: Stop;
      to: Stop;
      transition: Transition | null;
      onlyLayer: { id: string; leaves: boolean } | null;
    }
  /** transfers `canvas` */
  | { type: 'addView'; viewId: string; canvas: OffscreenCanvas; subject: ViewSubject; windowId: string }
  | { type: 'sizeView'; viewId: string; width: number; height: number }
  /** Shows a part of the frame (frame pixels), magnified without smoothing; null shows all of it. */
  | { type: 'partView'; viewId: string; part: Rect | null }
  /** Whether any of it can be seen: scrolled away, it is not drawn. */
  | { type: 'seeView'; viewId: string; seen: boolean }
  | { type: 'removeView'; viewId: string }
  /** Of a window: one behind the game is not drawn for, and the others are. */
  | { type: 'visible'; windowId: string; visible: boolean }
  /** transfers `frames` */
  | { type: 'track'; inputId: string; frames: ReadableStream<VideoFrame> }
  | { type: 'inputProblem'; inputId: string; problem: string | null }
  /** Nobody sits on a seat, or nobody is to be seen there; `words` stand in the place, empty for the input's name. */
  | { type: 'inputEmpty'; inputId: string; words: string }
  /** Sound of a video file goes into this memory. */
  | { type: 'fileSound'; inputId: string; ring: SharedArrayBuffer }
  | ToLiveAudience
  /** transfers `port`, on which encoded packets leave */
  | { type: 'encode'; encode: EncodeId; plan: EncodePlan; port: MessagePort }
  /**
   * From the next keyframe on what is encoded already is encoded so, all of it at once; transfers each `port`, on which its
   * packets leave from then on
   */
  | { type: 'change'; fps: number; encodes: { encode: EncodeId; plan: EncodePlan; port: MessagePort }[] }
  /** A hand on clips. */
  | { type: 'clips'; inputId: string; order: ClipsOrder }
  /** Asks for the colour of an input's picture at a point, 0…1 each way, before it is coloured. */
  | { type: 'sample'; id: number; inputId: string; x: number; y: number }
  /** Asks for a small JPEG of a scene. */
  | { type: 'shoot'; id: number; sceneId: string }
  /**
   * transfers `port`, on which the next pictures of a frame leave as they are. With `goesOn` as many more as are asked for
   * through it, until it says null; else null is said after the last.
   */
  | { type: 'tap'; frame: FrameName; count: number; goesOn: boolean; port: MessagePort }
  | { type: 'stopEncode' };

export interface InputState {
  inputId: string;
  /** `asleep`: not kept ready and not shown anywhere. */
  state: 'ready' | 'waiting' | 'failed' | 'asleep';
  message: string;
  width: number;
  height: number;
  hasSound: boolean;
  /** What its picture has been doing over the last seconds; null while that is not known. */
  look: 'moving' | 'still' | 'black' | null;
  /** From its opening to its first picture, seconds; null until then. */
  startSeconds: number | null;
  /** Places a web page asked for that it is kept away from (`name:port`). */
  blocked: readonly string[];
  /** Of clips; null for everything else. */
  played: Played | null;
}

export interface StageReport {
  /** Pictures composed in the last second. */
  fps: number;
  /** Counts up whenever the figures below begin anew. */
  run: number;
  due: number;
  composed: number;
  late: number;
  skipped: number;
  /** Pictures left out on purpose, evenly, since the machine is short of time; `pace`: how many a second are wanted now. */
  gaveWay: number;
  pace: number;
  /** How large it is drawn, in parts of each side of what is sent: below 1 while the machine is short of time. */
  scale: number;
  /** Pictures the encoder could not take, was told to leave out, or the line could not carry. */
  encoderBusy: number;
  leftOut: number;
  lineDropped: number;
  /** Mean milliseconds spent composing one picture. */
  composeMs: number;
  /** Only of pictures that were drawn, inputs included, milliseconds for a million pixels; null until one was. */
  drawMsPerMegapixel: number | null;
  programmeSeconds: number;
  /** Milliseconds since 1970 at which the programme's time was 0. */
  programmeEpochMs: number;
  soundClock: boolean;
  clockSlips: number;
  encodes: EncodeReport[];
  alerts: AlertQueueReport;
}

export interface EncodeReport {
  encode: EncodeId;
  codec: string;
  width: number;
  height: number;
  governor: GovernorReport;
}

/** How far clips have come. */
export interface Played {
  seconds: number;
  /** Of all of them; null while that is not known. */
  length: number | null;
  playing: boolean;
}

/** `toSeconds`: from the beginning; negative: before the end. */
export type ClipsOrder = { do: 'play' } | { do: 'pause' } | { do: 'jump'; toSeconds: number };

export type FromStage =
  | { type: 'report'; report: StageReport }
  /** The picture from which on commands hold: programme seconds, and milliseconds since 1970. */
  | { type: 'stamped'; id: number; atSeconds: number; atMs: number }
  | { type: 'inputs'; inputs: InputState[] }
  /** The clips of an input have run out; `thenNext`: the next scene is to come. */
  | { type: 'clipsEnded'; inputId: string; thenNext: boolean }
  /** A countdown of the scene on air is at zero; `thenNext`: it is to bring on the next scene. */
  | { type: 'countdownEnded'; sceneId: string; thenNext: boolean }
  /** An alert has begun; its sound is due. */
  | { type: 'alertsKept'; kept: KeptAlerts }
  | { type: 'alertBegan'; ruleId: string; words: string; muted: boolean }
  | { type: 'sampled'; id: number; colour: [number, number, number] | null }
  | { type: 'shot'; id: number; jpeg: ArrayBuffer | null }
  | { type: 'encodeFailed'; message: string }
  | { type: 'failed'; message: string };

type WithoutEncode<T> = T extends unknown ? Omit<T, 'encode'> : never;
/** An encoder does not know which encode it makes: the port its packets come on tells. */
export type EncoderConfigMessage = WithoutEncode<ConfigMessage>;

/** On the port from an encoder to the uplink worker. */
export type ToUplinkPort =
  | { type: 'config'; config: EncoderConfigMessage }
  /** transfers the payload */
  | { type: 'packet'; packet: MediaPacket; cover: boolean }
  | { type: 'coverEnd' };

/** Back on the same port: how the line does. */
export type FromUplinkPort = { type: 'line'; factor: number; dropToKeyframe: boolean } | { type: 'keyframe' };

export type ToUplink =
  /** Begins a broadcast: ports of the one before are closed. */
  | { type: 'start' }
  /** transfers `port`, on which an encoder's packets come; `takesOver`: those of the one before come until then */
  | { type: 'port'; of: EncodeId | 'sound'; port: MessagePort; takesOver?: boolean }
  | { type: 'session'; url: string; sessionId: string; ticket: string; source: string }
  | { type: 'stop' };

export interface UplinkReport {
  state: 'idle' | 'connecting' | 'live' | 'waiting' | 'refused';
  message: string;
  kbps: number;
  /** Age of the oldest packet the relay has not acknowledged. */
  unackedMs: number;
  reconnects: number;
}

export type FromUplink = { type: 'report'; report: UplinkReport };

/** A recording track that is encoded beside the programme. */
export interface SoundTrack {
  /** 2…6 */
  track: number;
  name: string;
}

export type ToSoundEncoder =
  /** transfers `port` */
  | { type: 'start'; sound: SoundMemory; kbps: number; port: MessagePort; tracks: SoundTrack[] }
  | { type: 'stop' };

export type FromSoundEncoder = { type: 'failed'; message: string } | { type: 'lost'; blocks: number };

/** One way of encoding that is tried. */
export interface TrialWay {
  name: string;
  plan: EncodePlan;
}

/** What one way costs here and gives. */
export interface TrialResult {
  name: string;
  /** Milliseconds a picture, from handing it over to the finished packet. */
  msPerPicture: number;
  kbps: number;
  /** Of brightness against the picture before encoding, dB; above 40 hardly anybody sees a difference. */
  psnrDb: number;
  /** Why it cannot be used here; empty when it can. */
  problem: string;
}

/** To the worker that tries encoders; transfers `port`, on which the pictures come. */
export interface ToTrial {
  ways: TrialWay[];
  port: MessagePort;
}
/** Each result as it is there, and null at the end. */
export type FromTrial = { results: TrialResult[]; done: boolean };

/** To and from the worker that sends a frame to a camera of the system. Transfers `pictures`, a tap. */
export interface ToCamera {
  url: string;
  pictures: MessagePort;
  format: CameraFormat;
  kbps: number;
  codec: string;
  /** How the encoder's planes are to be read; null where that is not known. */
  colour: StreamColour | null;
}

/** To and from the worker that draws a moment of a broadcast again. */
export interface ToMoment {
  replay: Replay;
  frame: FrameName;
  size: Size;
  fonts: readonly { family: string; url: string }[];
}
export type FromMoment = { picture: ImageBitmap } | { problem: string };

/** To and from the worker that finds the openings of a graphic; sizes are those the openings were found in. */
export interface ToOpenings {
  url: string;
}
export type FromOpenings = { openings: Opening[]; width: number; height: number } | { problem: string };
