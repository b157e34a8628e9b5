/**
 * The records a show is made of. Each kind has a table of its own; `id` is unique over all kinds.
 * Places and sizes are in frame pixels, times in seconds unless the name says otherwise.
 */

import type { AudienceSettings } from '../audience/settings';
import type { ChatPanelSettings } from '../audience/widgets/chat-settings';
import type { WidgetSettings } from '../audience/widgets/widgets';
import {
  FRAME_NAMES,
  type DeliverySettings,
  type DestinationSettings,
  type FrameName,
  type PlanSettings,
} from '../delivery/settings';
import { EMPTY_CHAIN, type ChainSettings } from '../sound/chain/chain-settings';
import type { DuckingValues } from '../sound/ducker';
import type { ChannelRole, MonitorMode } from '../sound/strip';
import type {
  Crop,
  Placement,
  Placements,
  RecordBase,
  RecordKind,
  SceneMark,
  SimulatedEffect,
  StandingChange,
  TakenKit,
  TextStyle,
} from './record-base';
import type { ChannelSource } from './channel-kinds';
import type { InputSource } from './input-kinds';
import type { AlertRuleRecord, GoalRecord } from './audience-records';
import type { ColourKey, GradeFields } from './colour-records';
import type {
  ControlRecord,
  CueRecord,
  PadPageRecord,
  PollRecord,
  RequestRecord,
  RundownRecord,
  SegmentRecord,
  ShortcutRecord,
  TitleRecord,
} from './rundown-records';
import { PLAIN_FINISH, type LayerFinish } from './finish-records';
import {
  PLAIN_MOTION,
  START_GLIDE,
  type LayerMotion,
  type PoseFields,
  type SceneGlide,
  type Transition,
} from './motion-records';

export { FRAME_NAMES, type FrameName };
export type { BackgroundLook, BackgroundTexture } from './inputs/background';
export { LIST_ORDERS, type SimulatedPicture } from './input-kind';
export { SIMULATED_SOUNDS, type SimulatedSound } from './channels/simulated';
export type { ComputerSoundSource } from './channels/computer';
export type { InputSource };
export {
  FONTS,
  RECORD_KINDS,
  SCENE_MARKS,
  SIMULATED_EFFECTS,
  type Crop,
  type ListedFile,
  type OwnFont,
  type Placement,
  type Placements,
  type RecordKind,
  type SceneMark,
  type SimulatedEffect,
  type StandingChange,
  type TakenKit,
  type TextStyle,
} from './record-base';

export interface ShowRecord extends RecordBase<'show'> {
  frames: Record<FrameName, { width: number; height: number; used: boolean }>;
  /** Words used in any text as `{{name}}`. */
  fields: Record<string, string>;
  sound: {
    /** Loudness aimed at, LUFS integrated. */
    targetLufs: number;
    /** What the programme never exceeds, dBTP. */
    ceilingDbtp: number;
    /** Names of the six recording tracks; the first is the programme. */
    trackNames: string[];
  };
  audience: AudienceSettings;
  delivery: DeliverySettings;
  /** How scenes come on that have no way of their own. */
  transition: Transition;
  /** Kits that were brought in, the oldest first. */
  kits: TakenKit[];
}

/** Parts of a picture that are cut away, each 0…1 of its width or height. */
export const NO_CROP: Crop = { left: 0, top: 0, right: 0, bottom: 0 };

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
  /** Made transparent, before anything else is coloured. */
  key: ColourKey | null;
  /** An id that is gone counts as none. */
  gradeId: string | null;
}

/** A way of colouring under a name. */
export type GradeRecord = RecordBase<'grade'> & GradeFields;

export interface SceneRecord extends RecordBase<'scene'> {
  folder: string;
  mark: SceneMark;
  /** How this scene comes on air; null: as the show says. */
  transition: Transition | null;
  /** By id of the scene it follows. Scenes that no longer exist count as not named. */
  transitionAfter: Record<string, Transition>;
  glide: SceneGlide;
  background: string;
  /** By id of the standing layer. */
  standing: Record<string, StandingChange>;
}

export const SHAPES = ['rectangle', 'ellipse', 'triangle', 'diamond', 'star', 'arrow', 'line'] as const;
export type Shape = (typeof SHAPES)[number];
/** `surround`: as `fit`, with the picture itself, enlarged and blurred, in the room that is left. */
export const FITS = ['fill', 'fit', 'surround', 'stretch'] as const;
export type Fit = (typeof FITS)[number];

export type LayerContent =
  | { type: 'input'; inputId: string; fit: Fit }
  | { type: 'text'; text: string; style: TextStyle }
  | { type: 'shape'; shape: Shape; colour: string }
  /** Holds layers together; stands where its members stand. */
  | { type: 'group' }
  /** A scene in a scene: its own layers, without the standing ones. */
  | { type: 'inset'; sceneId: string; fit: Fit }
  | { type: 'chatPanel'; style: TextStyle; keepSeconds: number; panel: ChatPanelSettings; accent: string }
  /** Where alerts appear; a rule may have a style of its own. */
  | { type: 'alert'; style: TextStyle }
  | { type: 'widget'; widget: WidgetSettings; style: TextStyle; accent: string };

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
  motion: LayerMotion;
  /** On top of the input's own; only for a layer that shows an input. */
  gradeId: string | null;
  finish: LayerFinish;
}

export type PoseRecord = RecordBase<'pose'> & PoseFields;

export const CHANNEL_COLOURS = ['glacier', 'larch', 'moss', 'rose', 'slate'] as const;
export type ChannelColour = (typeof CHANNEL_COLOURS)[number];
/** Always; only in chosen scenes; only while a layer with `pictureInputId` is on air. */
export const HEARD = ['always', 'scenes', 'with-picture'] as const;

export interface ChannelRecord extends RecordBase<'channel'> {
  source: ChannelSource;
  colour: ChannelColour;
  /** In front of the voice chain, dB: what the soundcheck sets. */
  trimDb: number;
  /** The fader. */
  gainDb: number;
  muted: boolean;
  /** −1 left … 1 right. */
  pan: number;
  mono: boolean;
  inverted: boolean;
  /** Later than its picture (positive) or earlier. */
  offsetMs: number;
  monitor: MonitorMode;
  /** Recording tracks 1…6; 1 is the programme. */
  tracks: number[];
  role: ChannelRole;
  heard: (typeof HEARD)[number];
  pictureInputId: string | null;
  /** Scenes that no longer exist count as not chosen. */
  sceneIds: string[];
  /** How long it takes to come and go with a scene. */
  fadeSeconds: number;
  chain: ChainSettings;
  /** Turned down while another channel speaks; a channel that is gone counts as none. */
  ducking: (DuckingValues & { byChannelId: string }) | null;
}

/** What every channel starts with beside its source and its level. */
export const PLAIN_CHANNEL = {
  colour: 'slate',
  trimDb: 0,
  muted: false,
  pan: 0,
  mono: false,
  inverted: false,
  offsetMs: 0,
  monitor: 'off',
  tracks: [1],
  role: 'background',
  heard: 'always',
  pictureInputId: null,
  sceneIds: [],
  fadeSeconds: 0.5,
  chain: EMPTY_CHAIN,
  ducking: null,
} satisfies Partial<ChannelRecord>;

export const EFFECT_REPEATS = ['overlap', 'restart'] as const;

/** One button of the effect bank. */
export interface EffectRecord extends RecordBase<'effect'> {
  source: { type: 'file'; assetId: string } | { type: 'simulated'; effect: SimulatedEffect };
  gainDb: number;
  /** Pressed again while it sounds: once more over it, or from the start. */
  repeat: (typeof EFFECT_REPEATS)[number];
  /** Fade when it is stopped. */
  fadeSeconds: number;
  colour: ChannelColour;
  /** Pressed with Alt; empty for none. */
  key: string;
}

/** A voice chain under a name, to be taken again. */
export interface ChainPresetRecord extends RecordBase<'chainPreset'> {
  chain: ChainSettings;
}

export type DestinationRecord = RecordBase<'destination'> & DestinationSettings;
export type PlanRecord = RecordBase<'plan'> & PlanSettings;

export type AnyRecord =
  | ShowRecord
  | InputRecord
  | SceneRecord
  | LayerRecord
  | PoseRecord
  | GradeRecord
  | ChannelRecord
  | DestinationRecord
  | PlanRecord
  | AlertRuleRecord
  | GoalRecord
  | EffectRecord
  | ChainPresetRecord
  | RundownRecord
  | SegmentRecord
  | TitleRecord
  | CueRecord
  | ShortcutRecord
  | PadPageRecord
  | ControlRecord
  | PollRecord
  | RequestRecord;

export type RecordOf<K extends RecordKind> = Extract<AnyRecord, { kind: K }>;

/** Sound of a new show: what most platforms bring everything to, and a ceiling that survives their re-encoding. */
export const START_SOUND: ShowRecord['sound'] = {
  targetLufs: -16,
  ceilingDbtp: -1,
  trackNames: ['Programme', 'Voices', 'Game', 'Music', 'Call', 'Effects'],
};

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

/** What every scene starts with. */
export const PLAIN_SCENE = {
  folder: '',
  mark: 'none',
  transition: null,
  transitionAfter: {},
  glide: START_GLIDE,
  background: '#14181D',
  standing: {},
} as const satisfies Partial<SceneRecord>;

/** What every layer starts with beside what it shows and where. */
export const PLAIN_LAYER = {
  groupId: null,
  visible: true,
  locked: false,
  motion: PLAIN_MOTION,
  gradeId: null,
  finish: PLAIN_FINISH,
} as const satisfies Partial<LayerRecord>;

/** What every input starts with beside its source. */
export const PLAIN_INPUT = {
  crop: NO_CROP,
  turnDeg: 0,
  mirrored: false,
  keepReady: true,
  standInId: null,
  key: null,
  gradeId: null,
} as const satisfies Partial<InputRecord>;
