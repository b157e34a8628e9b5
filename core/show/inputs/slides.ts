import {
  listed,
  LIST_ORDERS,
  MAX_LISTED,
  PLAIN_INPUT_KIND,
  type InputKind,
  type ListOrder,
} from '../input-kind';
import type { ListedFile } from '../record-base';
import { choice, files, number } from '../shape';

export interface SlidesInput {
  type: 'slides';
  files: ListedFile[];
  order: ListOrder;
  intervalSeconds: number;
  fadeSeconds: number;
}

export const slides: InputKind<SlidesInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'slides',
  shape: {
    files: files(MAX_LISTED, 1),
    order: choice(LIST_ORDERS),
    intervalSeconds: number(0.2, 3600),
    fadeSeconds: number(0, 30),
  },
  role: () => 'screen',
  files: listed,
  ...{ fills: false, kept: true },
};
