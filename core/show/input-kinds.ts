/** Every kind of input: another is a file in `inputs`, a row here, and a source in the engine. */
import type { InputKind } from './input-kind';
import { background } from './inputs/background';
import { camera } from './inputs/camera';
import { clips } from './inputs/clips';
import { feed } from './inputs/feed';
import { lottie } from './inputs/lottie';
import { page } from './inputs/page';
import { picture } from './inputs/picture';
import { screen } from './inputs/screen';
import { seat } from './inputs/seat';
import { simulated } from './inputs/simulated';
import { slides } from './inputs/slides';
import { testPicture } from './inputs/test-picture';

export const INPUT_KINDS = {
  camera,
  screen,
  seat,
  picture,
  clips,
  slides,
  lottie,
  background,
  page,
  feed,
  simulated,
  testPicture,
};

type SourceOf<K> = K extends InputKind<infer S> ? S : never;
/** What an input takes its picture from. */
export type InputSource = {
  [T in keyof typeof INPUT_KINDS]: SourceOf<(typeof INPUT_KINDS)[T]>;
}[keyof typeof INPUT_KINDS];

/** The row of a source's kind. */
export function kindOf<S extends InputSource>(source: S): InputKind<S> {
  // Of each kind its own row: what the table's type says, and an index by a union cannot.
  return INPUT_KINDS[source.type] as unknown as InputKind<S>;
}
