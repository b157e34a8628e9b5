import type { ChannelKind } from '../channel-kind';
import { LIST_ORDERS, MAX_LISTED, type ListOrder } from '../input-kind';
import type { ListedFile } from '../record-base';
import { choice, files, flag } from '../shape';

export interface MusicSource {
  type: 'music';
  files: ListedFile[];
  order: ListOrder;
  loop: boolean;
  playing: boolean;
}

export const music: ChannelKind<MusicSource> = {
  name: 'Music',
  shape: { files: files(MAX_LISTED, 1), order: choice(LIST_ORDERS), loop: flag, playing: flag },
  spoken: false,
};
