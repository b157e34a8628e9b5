import { PLAIN_INPUT_KIND, type InputKind } from '../input-kind';
import { choice, flag } from '../shape';

/** Colour bars, a grid with the safe areas, or steps of grey. */
export const TEST_PATTERNS = ['bars', 'grid', 'steps'] as const;
export type TestPattern = (typeof TEST_PATTERNS)[number];

export interface TestPictureInput {
  type: 'testPicture';
  pattern: TestPattern;
  /** A line goes across once a second: what stutters is seen at once. */
  moving: boolean;
}

export const testPicture: InputKind<TestPictureInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'test picture',
  shape: { pattern: choice(TEST_PATTERNS), moving: flag },
  role: () => 'screen',
  opaque: () => true,
  ...{ ground: true, kept: true },
};
