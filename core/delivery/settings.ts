/** What a show says about its delivery: where it goes, at what size and rate, and what is kept. */

/** The frames a show can have; `wide` and `tall` stand here, at the bottom, so that records and delivery share them. */
export const FRAME_NAMES = ['wide', 'tall'] as const;
export type FrameName = (typeof FRAME_NAMES)[number];

/** What can be recorded: `clean` is the wide picture without alerts, chat and read-outs. */
export const RECORDED_PICTURES = [...FRAME_NAMES, 'clean'] as const;
export type RecordedPicture = (typeof RECORDED_PICTURES)[number];

export const KEY_USES = ['lasting', 'fresh'] as const;
/** Who makes the pictures of a destination: the desk, or the server again out of what the desk sent. */
export const ENCODERS = ['desk', 'server'] as const;
export const LATENCIES = ['normal', 'low', 'lowest'] as const;
/** Longest delay of a destination, seconds. */
export const MAX_DELAY_SECONDS = 900;

/** What viewers read beside the picture. */
export interface BroadcastDetails {
  title: string;
  category: string;
  tags: string[];
  description: string;
  latency: (typeof LATENCIES)[number];
  /** Picture shown while the broadcast is listed; an asset's id. */
  thumbnailId: string | null;
  /** Who may see it, in the service's own word; empty for its usual one. */
  visibility: string;
}

export interface DestinationSettings {
  /** rtmp:// or rtmps://, without the key. */
  url: string;
  /** Which of the two pictures goes there. */
  frame: FrameName;
  enabled: boolean;
  /** The connector that describes the service behind it; null for a plain address. */
  connector: string | null;
  /** The most it takes, picture and sound together, kbps; null when that is not known. */
  capKbps: number | null;
  /** Rate of its pictures, kbps, when it is to have its own; null for the plan's. */
  ownKbps: number | null;
  /** Where its own rate is made, when it has one or takes less than the plan. */
  encodedBy: (typeof ENCODERS)[number];
  /** How much later viewers there see everything, 0…900 s. */
  delaySeconds: number;
  keyUse: (typeof KEY_USES)[number];
  /** Filled up to the constant rate. */
  padded: boolean;
  /** Ingest servers to choose among; `url` is that of the chosen one. */
  servers: { name: string; url: string }[];
  details: BroadcastDetails;
}

/** What is encoded of one frame; sizes are even. */
export interface FramePlan {
  width: number;
  height: number;
  videoKbps: number;
}

export const CONTENTS = ['talk', 'game'] as const;
/** What stays longest on a computer that is overloaded. */
export const KEEPS = ['sharpness', 'rate'] as const;
export const EFFORTS = ['quick', 'careful'] as const;
/** Where video is encoded: on the processor, on the graphics chip, or as the browser thinks best. */
export const VIDEO_ENCODERS = ['any', 'cpu', 'gpu'] as const;
export type VideoEncoderChoice = (typeof VIDEO_ENCODERS)[number];

export interface PlanSettings {
  /** A frame without a plan is not sent. */
  frames: Partial<Record<FrameName, FramePlan>>;
  fps: number;
  audioKbps: number;
  keyframeSeconds: number;
  /** Upload it is made for, kbps; null when it was never measured nor given. */
  lineKbps: number | null;
  /** Share of the upload that is left free, 0…0.9. */
  headroom: number;
  content: (typeof CONTENTS)[number];
  /** `careful` lets the encoder look longer at each picture: better at low rates, more work. */
  effort: (typeof EFFORTS)[number];
  encoder: VideoEncoderChoice;
  /** Follow a line that becomes slower. */
  adaptive: boolean;
  keep: (typeof KEEPS)[number];
}

export interface DeliverySettings {
  /** The plan in use; null or unknown for the first. */
  planId: string | null;
  record: {
    frames: RecordedPicture[];
    /** A new file after so many minutes; 0 for never. */
    splitMinutes: number;
    /** A new file when one has so many megabytes; 0 for never. */
    splitMb: number;
    /** Name of the files, with {date}, {time}, {show} and {frame}. */
    pattern: string;
    /** A copy that editors take is made when a recording is finished. */
    rewrap: boolean;
  };
  lookback: { on: boolean; seconds: number };
  announce: { on: boolean; text: string };
  /** How long the broadcast is meant to last, minutes: for the disk. */
  plannedMinutes: number;
}

export const PLAIN_DETAILS: BroadcastDetails = {
  title: '',
  category: '',
  tags: [],
  description: '',
  latency: 'normal',
  thumbnailId: null,
  visibility: '',
};

export const PLAIN_DESTINATION: Omit<DestinationSettings, 'url' | 'frame' | 'enabled' | 'connector'> = {
  capKbps: null,
  ownKbps: null,
  encodedBy: 'desk',
  delaySeconds: 0,
  keyUse: 'lasting',
  padded: false,
  servers: [],
  details: PLAIN_DETAILS,
};

export const PLAIN_PLAN: Omit<PlanSettings, 'frames'> = {
  fps: 30,
  audioKbps: 128,
  keyframeSeconds: 2,
  lineKbps: null,
  headroom: 0.3,
  content: 'talk',
  effort: 'quick',
  encoder: 'any',
  adaptive: true,
  keep: 'sharpness',
};

export const START_DELIVERY: DeliverySettings = {
  planId: null,
  record: {
    frames: ['wide', 'tall'],
    splitMinutes: 0,
    splitMb: 0,
    pattern: '{date} {time} {show} {frame}',
    rewrap: false,
  },
  lookback: { on: true, seconds: 120 },
  announce: { on: false, text: '{show} is live: {title}' },
  plannedMinutes: 180,
};
