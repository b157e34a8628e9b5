import {
  listed,
  LIST_ORDERS,
  MAX_LISTED,
  PLAIN_INPUT_KIND,
  type InputKind,
  type ListOrder,
} from '../input-kind';
import type { ListedFile } from '../record-base';
import { choice, files } from '../shape';

/** What clips do after the last one: begin again, stand on the last picture, or bring the next scene on air. */
const CLIP_ENDS = ['loop', 'stop', 'next'] as const;
/** Clips run from when they are opened, or begin when their scene comes on air. */
const CLIP_STARTS = ['always', 'on-air'] as const;

export interface ClipsInput {
  type: 'clips';
  files: ListedFile[];
  order: ListOrder;
  atEnd: (typeof CLIP_ENDS)[number];
  start: (typeof CLIP_STARTS)[number];
}

export const clips: InputKind<ClipsInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'video',
  shape: {
    files: files(MAX_LISTED, 1),
    order: choice(LIST_ORDERS),
    atEnd: choice(CLIP_ENDS),
    start: choice(CLIP_STARTS),
  },
  role: () => 'screen',
  opaque: () => true,
  files: listed,
  ...{ ground: true, sound: 'commonly', heavy: true, kept: true },
};
