/**
 * What there is to know of each kind of input, in one place: another kind is another row here, its settings in the union of
 * records, its schema, and the files that draw it and edit it.
 */
import type { InputSource, SimulatedPicture } from './records';

export interface InputKind<S extends InputSource = InputSource> {
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
  previewed: InputSource | null;
  /** Ids of the stored files it is made of. */
  files: (source: S) => string[];
}

type SourceOf<T extends InputSource['type']> = Extract<InputSource, { type: T }>;

/** What most are; each row says what is otherwise with it. */
const PLAIN = {
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

/** The simulated pictures that stand for cameras; the others stand for screens. */
const SIMULATED_PEOPLE: readonly SimulatedPicture[] = ['desk-camera', 'lever-camera'];

const simulated = (picture: SimulatedPicture): InputSource => ({ type: 'simulated', picture });
/** A page that nobody opens covers nothing. */
const NOTHING: InputSource = { type: 'background', look: 'plain', colour: '#00000000' };

const INPUT_KINDS: { [T in InputSource['type']]: InputKind<SourceOf<T>> } = {
  camera: {
    ...PLAIN,
    ...{ role: () => 'person', opaque: () => true },
    ...{ ground: true, corner: true, live: true, previewed: simulated('desk-camera') },
  },
  seat: {
    ...PLAIN,
    ...{ role: () => 'person', opaque: () => true },
    ...{ ground: true, corner: true, sound: 'commonly', previewed: simulated('desk-camera') },
  },
  screen: {
    ...PLAIN,
    ...{ role: () => 'screen', opaque: () => true },
    ...{ ground: true, sound: 'commonly', previewed: simulated('switchback') },
  },
  feed: {
    ...PLAIN,
    ...{ role: () => 'screen', opaque: () => true },
    ...{ ground: true, sound: 'commonly', live: true, addressed: true, previewed: simulated('lever-camera') },
  },
  clips: {
    ...PLAIN,
    ...{ role: () => 'screen', opaque: () => true, files: listed },
    ...{ ground: true, sound: 'commonly', heavy: true, kept: true },
  },
  simulated: {
    ...PLAIN,
    role: ({ picture }) => (SIMULATED_PEOPLE.includes(picture) ? 'person' : 'screen'),
    ...{ opaque: () => true, ground: true, live: true, kept: true },
  },
  slides: { ...PLAIN, role: () => 'screen', files: listed, fills: false, kept: true },
  picture: { ...PLAIN, role: () => 'graphic', files: one, fills: false, kept: true },
  lottie: { ...PLAIN, role: () => 'graphic', files: one, fills: false, kept: true },
  page: {
    ...PLAIN,
    ...{ role: () => 'graphic', fills: false, sound: 'perhaps' },
    ...{ addressed: true, previewed: NOTHING },
  },
  background: {
    ...PLAIN,
    role: () => 'background',
    opaque: (source) => source.look === 'plain' && /^#[0-9a-f]{6}$/i.test(source.colour),
    kept: true,
  },
};

function one({ assetId }: { assetId: string }): string[] {
  return [assetId];
}

function listed({ files }: { files: readonly { assetId: string }[] }): string[] {
  return files.map(({ assetId }) => assetId);
}

/** The row of a source's kind. */
export function kindOf<S extends InputSource>(source: S): InputKind<S> {
  // Of each kind its own row: what the table's type says, and an index by a union cannot.
  return INPUT_KINDS[source.type] as unknown as InputKind<S>;
}
