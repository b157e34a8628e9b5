/** What a kind of widget is: all that anything outside its own files needs to know of it. */
import type { TextStyle } from '../../show/record-base';
import type { ShapeOf } from '../../show/shape';
import type { AudienceNow } from './audience-now';
import type { Mark, Room } from './drawing';

export interface WidgetKind<W extends { of: string }> {
  name: string;
  /** What a new one is set to. @param goalId a goal of the show, empty without any */
  start: (goalId: string) => W;
  /** What its settings may be. */
  shape: ShapeOf<W, 'of'>;
  /** How large a new one is, in pixels of a frame 1920 wide, and how large its words are. */
  size: { width: number; height: number; sizePx: number };
  /** A panel behind its words. */
  boxed: boolean;
  align: TextStyle['align'];
  /** Viewers cause what it shows: before anybody has come there are made-up ones. */
  ofViewers: boolean;
  /** @returns marks with all text inside the box; what rolls is cut by it */
  layout: (widget: W, now: AudienceNow, room: Room) => Mark[];
  /** A text that differs whenever its picture may: what is the same need not be laid out again. */
  stamp: (widget: W, now: AudienceNow) => string;
}

/** What most are; each says what is otherwise with it. */
export const PLAIN_WIDGET = { boxed: true, align: 'left', ofViewers: true } as const;
