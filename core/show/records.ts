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

/** Parts of a picture that are cut away, each 0…1 of its width or height. */
export interface Crop {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
export const NO_CROP: Crop = { left: 0, top: 0, right: 0, bottom: 0 };

export const BACKGROUND_TEXTURES = ['strata', 'dots', 'weave', 'rain'] as const;
export type BackgroundTexture = (typeof BACKGROUND_TEXTURES)[number];

export type BackgroundLook =
  | { look: 'plain'; colour: string }
  | { look: 'gradient'; from: string; to: string; angleDeg: number; shape: 'linear' | 'radial' }
  | { look: 'texture'; texture: BackgroundTexture; colour: string; ink: string; seed: number };

/** A stored file in a list, with the name it came under. */
export interface ListedFile {
  assetId: string;
  name: string;
}

export const LIST_ORDERS = ['listed', 'shuffled'] as const;
/** What clips do after the last one: begin again, stand on the last picture, or bring the next scene on air. */
export const CLIP_ENDS = ['loop', 'stop', 'next'] as const;
/** Clips run from when they are opened, or begin when their scene comes on air. */
export const CLIP_STARTS = ['always', 'on-air'] as const;
export const SCREEN_SURFACES = ['screen', 'window', 'region'] as const;

export type InputSource =
  | { type: 'camera'; deviceId: string; deviceLabel: string; width: number; height: number; fps: number }
  /** A region is a screen whose `crop` was drawn by the user. */
  | { type: 'screen'; surface: (typeof SCREEN_SURFACES)[number] }
  /** A still, or an animated picture, as the file says. */
  | { type: 'picture'; assetId: string; loop: boolean }
  | {
      type: 'clips';
      files: ListedFile[];
      order: (typeof LIST_ORDERS)[number];
      atEnd: (typeof CLIP_ENDS)[number];
      start: (typeof CLIP_STARTS)[number];
    }
  | {
      type: 'slides';
      files: ListedFile[];
      order: (typeof LIST_ORDERS)[number];
      intervalSeconds: number;
      fadeSeconds: number;
    }
  | { type: 'lottie'; assetId: string; loop: boolean; speed: number }
  | ({ type: 'background' } & BackgroundLook)
  | { type: 'simulated'; picture: SimulatedPicture };

export const TURNS = [0, 90, 180, 270] as const;

/** Named and adjusted once, used by any layer of any scene. */
export interface InputRecord extends RecordBase<'input'> {
  source: InputSource;
  /** Taken from the source's own picture, before turning. */
  crop: Crop;
  turnDeg: (typeof TURNS)[number];
  mirrored: boolean;
  /** Open all the time, so that it is on air at once; else only while a scene on air or in the editor shows it. */
  keepReady: boolean;
  /** Shown in its place while it has no picture. An id that is gone counts as none. */
  standInId: string | null;
}

export const TRANSITIONS = ['cut', 'fade'] as const;
export type TransitionType = (typeof TRANSITIONS)[number];
export interface Transition {
  type: TransitionType;
  seconds: number;
}

/** A mark beside a scene's name, to find it again; each has a shape of its own, since colour never stands alone. */
export const SCENE_MARKS = ['none', 'glacier', 'larch', 'moss', 'rose', 'slate'] as const;
export type SceneMark = (typeof SCENE_MARKS)[number];

/** What a scene does with a standing layer for itself; what it does not say stays as the layer has it. */
export interface StandingChange {
  hidden: boolean;
  placements: Placements;
}

export interface SceneRecord extends RecordBase<'scene'> {
  folder: string;
  mark: SceneMark;
  /** How this scene comes on air. */
  transition: Transition;
  background: string;
  /** By id of the standing layer. */
  standing: Record<string, StandingChange>;
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
  outlinePx: number;
  outlineColour: string;
  shadowPx: number;
  /** Unwrapped words stay on their lines and are made smaller when they do not fit. */
  wrap: boolean;
  /** Frame pixels a second that the words run to the left, on one line without end; 0 stands still. */
  tickerPxPerSecond: number;
}

export const SHAPES = ['rectangle', 'ellipse', 'triangle', 'diamond', 'star', 'arrow', 'line'] as const;
export type Shape = (typeof SHAPES)[number];
export const FITS = ['fill', 'fit', 'stretch'] as const;
export type Fit = (typeof FITS)[number];

export type LayerContent =
  | { type: 'input'; inputId: string; fit: Fit }
  | { type: 'text'; text: string; style: TextStyle }
  | { type: 'shape'; shape: Shape; colour: string }
  /** Holds layers together; stands where its members stand. */
  | { type: 'group' }
  /** A scene in a scene: its own layers, without the standing ones. */
  | { type: 'inset'; sceneId: string; fit: Fit }
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
  crop: Crop;
  flipX: boolean;
  flipY: boolean;
  borderPx: number;
  borderColour: string;
  shadowPx: number;
}

/** A frame without a placement does not show the layer. */
export type Placements = Partial<Record<FrameName, Placement>>;

export interface LayerRecord extends RecordBase<'layer'> {
  /** The scene it belongs to; null for a standing layer, above every scene. */
  sceneId: string | null;
  /** The group it belongs to, a layer of the same scene. */
  groupId: string | null;
  visible: boolean;
  locked: boolean;
  content: LayerContent;
  /** Empty for a group. */
  placements: Placements;
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
  /** Which of the two pictures goes there. */
  frame: FrameName;
  enabled: boolean;
  /** Name of the stand-in platform it belongs to, if any. */
  standIn: string | null;
}

/** What is encoded of one frame; sizes are even. */
export interface FramePlan {
  width: number;
  height: number;
  videoKbps: number;
}

export interface PlanRecord extends RecordBase<'plan'> {
  /** A frame without a plan is not sent. */
  frames: Partial<Record<FrameName, FramePlan>>;
  fps: number;
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
    crop: NO_CROP,
    flipX: false,
    flipY: false,
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
  outlinePx: 0,
  outlineColour: '#14181D',
  shadowPx: 0,
  wrap: true,
  tickerPxPerSecond: 0,
};

/** What every input starts with beside its source. */
export const PLAIN_INPUT = {
  crop: NO_CROP,
  turnDeg: 0,
  mirrored: false,
  keepReady: true,
  standInId: null,
} as const satisfies Partial<InputRecord>;
