/**
 * The records a show is made of. Each kind has a table of its own; `id` is unique over all kinds.
 * Places and sizes are in frame pixels, times in seconds unless the name says otherwise.
 */

export const RECORD_KINDS = [
  'show',
  'input',
  'scene',
  'layer',
  'channel',
  'destination',
  'plan',
  'alertRule',
] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

export const FRAME_NAMES = ['wide', 'tall'] as const;
export type FrameName = (typeof FRAME_NAMES)[number];

interface RecordBase<K extends RecordKind> {
  kind: K;
  id: string;
  showId: string;
  name: string;
  /** Order among its siblings, lowest first; gaps are fine. */
  position: number;
}

export interface ShowRecord extends RecordBase<'show'> {
  frames: Record<FrameName, { width: number; height: number; used: boolean }>;
  /** Words used in any text as `{{name}}`. */
  fields: Record<string, string>;
}

export const SIMULATED_PICTURES = [
  'desk-camera',
  'lever-camera',
  'switchback',
  'sync-clapper',
  'snowstorm',
] as const;
export type SimulatedPicture = (typeof SIMULATED_PICTURES)[number];
export const SIMULATED_SOUNDS = ['voice', 'night-music', 'switchback', 'sync-clapper'] as const;
export type SimulatedSound = (typeof SIMULATED_SOUNDS)[number];

export type InputSource =
  | {
      type: 'camera';
      deviceId: string;
      deviceLabel: string;
      width: number;
      height: number;
      fps: number;
      mirrored: boolean;
    }
  | { type: 'screen' }
  | { type: 'picture'; assetId: string }
  | { type: 'video'; assetId: string; loop: boolean }
  | { type: 'simulated'; picture: SimulatedPicture };

export interface InputRecord extends RecordBase<'input'> {
  source: InputSource;
}

export const TRANSITIONS = ['cut', 'fade'] as const;
export type TransitionType = (typeof TRANSITIONS)[number];
export interface Transition {
  type: TransitionType;
  seconds: number;
}

export interface SceneRecord extends RecordBase<'scene'> {
  folder: string;
  /** How this scene comes on air. */
  transition: Transition;
  background: string;
}

/** Shipped families; the names are those of the @font-face rules. */
export const FONTS = [
  'Hanken Grotesk Variable',
  'Bricolage Grotesque Variable',
  'JetBrains Mono Variable',
] as const;

export interface TextStyle {
  font: (typeof FONTS)[number];
  sizePx: number;
  weight: number;
  colour: string;
  align: 'left' | 'center' | 'right';
  /** Colour behind the words, or 'none'. */
  box: string;
}

export type LayerContent =
  | { type: 'input'; inputId: string; fit: 'fill' | 'fit' | 'stretch' }
  | { type: 'text'; text: string; style: TextStyle }
  | { type: 'fill'; colour: string }
  | { type: 'chatPanel'; style: TextStyle; keepSeconds: number }
  | { type: 'alert'; style: TextStyle };

/** Where a layer stands in one frame. Crop is in parts of the layer's picture, 0…1. */
export interface Placement {
  cx: number;
  cy: number;
  width: number;
  height: number;
  rotationDeg: number;
  opacity: number;
  cornerPx: number;
  crop: { left: number; top: number; right: number; bottom: number };
  borderPx: number;
  borderColour: string;
  shadowPx: number;
}

export interface LayerRecord extends RecordBase<'layer'> {
  /** The scene it belongs to; null for a standing layer, above every scene. */
  sceneId: string | null;
  visible: boolean;
  locked: boolean;
  content: LayerContent;
  /** A frame without a placement does not show the layer. */
  placements: Partial<Record<FrameName, Placement>>;
}

export type ChannelSource =
  | { type: 'simulated'; sound: SimulatedSound }
  | { type: 'microphone'; deviceId: string; deviceLabel: string }
  | { type: 'input'; inputId: string };

export interface ChannelRecord extends RecordBase<'channel'> {
  source: ChannelSource;
  gainDb: number;
  muted: boolean;
  /** 'with-picture': only while a layer with `pictureInputId` is on air. */
  heard: 'always' | 'with-picture';
  pictureInputId: string | null;
}

export interface DestinationRecord extends RecordBase<'destination'> {
  /** rtmp:// or rtmps://, without the key. */
  url: string;
  enabled: boolean;
  /** Name of the stand-in platform it belongs to, if any. */
  standIn: string | null;
}

export interface PlanRecord extends RecordBase<'plan'> {
  width: number;
  height: number;
  fps: number;
  videoKbps: number;
  audioKbps: number;
  keyframeSeconds: number;
}

export const ALERT_EVENTS = ['follow'] as const;
export interface AlertRuleRecord extends RecordBase<'alertRule'> {
  event: (typeof ALERT_EVENTS)[number];
  /** `{{name}}` stands for the viewer. */
  text: string;
  seconds: number;
}

export type AnyRecord =
  | ShowRecord
  | InputRecord
  | SceneRecord
  | LayerRecord
  | ChannelRecord
  | DestinationRecord
  | PlanRecord
  | AlertRuleRecord;

export type RecordOf<K extends RecordKind> = Extract<AnyRecord, { kind: K }>;

/** A placement filling the whole frame, to start from. */
export function fullPlacement(frame: { width: number; height: number }): Placement {
  return {
    cx: frame.width / 2,
    cy: frame.height / 2,
    width: frame.width,
    height: frame.height,
    rotationDeg: 0,
    opacity: 1,
    cornerPx: 0,
    crop: { left: 0, top: 0, right: 0, bottom: 0 },
    borderPx: 0,
    borderColour: '#ECE8E1',
    shadowPx: 0,
  };
}

export const DEFAULT_TEXT_STYLE: TextStyle = {
  font: 'Hanken Grotesk Variable',
  sizePx: 48,
  weight: 600,
  colour: '#ECE8E1',
  align: 'left',
  box: 'none',
};
