/** What a kind of input is: all that the core, the server and the pages need to know of it. */
import type { Field, ShapeOf } from './shape';

export interface InputKind<S extends { type: string }> {
  /** In a list, in lower case. */
  name: string;
  /** What its settings may be; several where it comes in several looks. */
  shape: ShapeOf<S, 'type'> | readonly Record<string, Field>[];
  /** What it is to a viewer. */
  role: (source: S) => 'background' | 'screen' | 'person' | 'graphic';
  /** A scene may be about it: the first such fills its frame. */
  ground: boolean;
  /** A camera-like picture that goes into a corner over a ground. */
  corner: boolean;
  /** No pixel of it can be seen through: what lies wholly below need not be drawn. */
  opaque: (source: S) => boolean;
  /** Fills its box, cut where it must be; else it is shown whole. */
  fills: boolean;
  /** Whether sound comes with it: commonly, so that a channel is made for it, or perhaps. */
  sound: 'commonly' | 'perhaps' | 'never';
  /** A picture that does not move means that something is wrong. */
  live: boolean;
  /** Decoding it may be too much for a computer. */
  heavy: boolean;
  /** It is kept, or can be made again: of the others what they showed is gone. */
  kept: boolean;
  /** Its address or key is kept outside the show, so that two that read the same may differ. */
  addressed: boolean;
  /** Stands in for a device or an address in a preview, which opens none; null shows it itself. */
  previewed: StandInSource | null;
  /** Ids of the stored files it is made of. */
  files: (source: S) => string[];
}

export const SIMULATED_PICTURES = [
  'desk-camera',
  'lever-camera',
  'switchback',
  'sync-clapper',
  'snowstorm',
] as const;
export type SimulatedPicture = (typeof SIMULATED_PICTURES)[number];
export interface SimulatedSource {
  type: 'simulated';
  picture: SimulatedPicture;
}

/** What may stand for another: made here, so that it opens nothing. */
type StandInSource = SimulatedSource | { type: 'background'; look: 'plain'; colour: string };

export const simulated = (picture: SimulatedPicture): SimulatedSource => ({ type: 'simulated', picture });

/** What most are; each kind says what is otherwise with it. */
export const PLAIN_INPUT_KIND = {
  ground: false,
  corner: false,
  opaque: () => false,
  fills: true,
  sound: 'never',
  live: false,
  heavy: false,
  kept: false,
  addressed: false,
  previewed: null,
  files: () => [],
} as const;

/** Of lists of files. */
export const LIST_ORDERS = ['listed', 'shuffled'] as const;
export type ListOrder = (typeof LIST_ORDERS)[number];
/** Most files of one list. */
export const MAX_LISTED = 500;

export const listed = ({ files }: { files: readonly { assetId: string }[] }): string[] =>
  files.map(({ assetId }) => assetId);
export const one = ({ assetId }: { assetId: string }): string[] => [assetId];
