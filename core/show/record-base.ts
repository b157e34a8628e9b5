/** What records of several kinds are made of. */
import type { FrameName } from '../delivery/settings';

export const RECORD_KINDS = [
  'show',
  'input',
  'scene',
  'layer',
  'pose',
  'grade',
  'channel',
  'destination',
  'plan',
  'alertRule',
  'goal',
  'effect',
  'chainPreset',
  'rundown',
  'segment',
  'title',
  'cue',
  'shortcut',
  'padPage',
  'control',
  'poll',
  'request',
] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

export interface RecordBase<K extends RecordKind> {
  kind: K;
  id: string;
  showId: string;
  name: string;
  /** Order among its siblings, lowest first; gaps are fine. */
  position: number;
}

export interface Crop {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

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

/** What a scene does with a standing layer for itself; what it does not say stays as the layer has it. */
export interface StandingChange {
  hidden: boolean;
  placements: Placements;
}

/** Shipped families; the names are those of the @font-face rules. */
export const FONTS = [
  'Hanken Grotesk Variable',
  'Bricolage Grotesque Variable',
  'JetBrains Mono Variable',
] as const;

/** A font file that was brought in. */
export interface OwnFont {
  assetId: string;
  /** As its file was called. */
  name: string;
}

export interface TextStyle {
  /** One that comes with the studio; with a font of its own the one that stands in until that is there. */
  font: (typeof FONTS)[number];
  ownFont?: OwnFont;
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

/** A mark beside a scene's name, to find it again; each has a shape of its own, since colour never stands alone. */
export const SCENE_MARKS = ['none', 'glacier', 'larch', 'moss', 'rose', 'slate'] as const;
export type SceneMark = (typeof SCENE_MARKS)[number];

export const SIMULATED_EFFECTS = ['bell', 'whistle', 'lever', 'cheer'] as const;
export type SimulatedEffect = (typeof SIMULATED_EFFECTS)[number];

/** A kit that was brought into a show, as the show remembers it. */
export interface TakenKit {
  id: string;
  name: string;
  /** What came, by id: a sum of each record as it came, to know later whether it was changed. */
  records: Record<string, string>;
}

/** A stored file in a list, with the name it came under. */
export interface ListedFile {
  assetId: string;
  name: string;
}
