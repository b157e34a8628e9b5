import type { ViewerEvent } from '../../events';
import { pictureText } from '../../picture-words';
import type { AudienceNow } from '../audience-now';
import { lineOf, LINE, padOf, rowsOf, type Mark, type Room } from '../drawing';
import { bar } from '../gauge';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface PollWidget {
  of: 'poll';
}

const MOST_OPTIONS = 8;

/** The show's own poll while it runs, else the last of a platform. */
export const poll: WidgetKind<PollWidget> = {
  ...PLAIN_WIDGET,
  name: 'Poll',
  start: () => ({ of: 'poll' }),
  shape: {},
  size: { width: 620, height: 360, sizePx: 38 },
  layout(_, { ownPoll, book, settings }, room) {
    if (ownPoll) return bars(ownPoll, ownPoll, settings, room);
    const event = book.facts.poll;
    if (!event?.poll) return rowsOf(room, [{ text: 'No poll yet' }]);
    return bars(event, event.poll, settings, room);
  },
  stamp: (_, { ownPoll, eventStamp }) => (ownPoll ? JSON.stringify(ownPoll.options) : eventStamp),
};

function bars(
  { title }: Pick<ViewerEvent, 'title'>,
  { options, open }: NonNullable<ViewerEvent['poll']>,
  settings: AudienceNow['settings'],
  room: Room,
): Mark[] {
  const shown = options.slice(0, MOST_OPTIONS);
  const sum = shown.reduce((all, o) => all + o.votes, 0);
  const most = Math.max(...shown.map((o) => o.votes));
  const pad = padOf(room);
  const rows = 1.2 + shown.length * 1.55;
  const sizePx = Math.max(0.1, Math.min(room.style.sizePx * room.scale, (room.height - pad) / (rows * LINE)));
  const width = room.width - 2 * pad;
  let top = (room.height - rows * sizePx * LINE) / 2;
  const marks = lineOf(
    room,
    `${pictureText(title, settings, 100)}${open ? '' : ' (closed)'}`,
    { x: pad, top, width, sizePx },
    { align: 'left', weight: 700 },
  );
  top += sizePx * LINE * 1.2;
  for (const { label, votes } of shown) {
    const share = sum === 0 ? 0 : votes / sum;
    const figure = `${Math.round(share * 100)}%`;
    const wide = Math.min(width * 0.45, room.measure(figure, sizePx, 700) + 1);
    marks.push(
      ...lineOf(
        room,
        pictureText(label, settings, 60),
        { x: pad, top, width: width - wide - sizePx * 0.4, sizePx },
        { align: 'left' },
      ),
      ...lineOf(
        room,
        figure,
        { x: pad + width - wide, top, width: wide, sizePx },
        { align: 'right', weight: 700 },
      ),
      ...bar(
        pad,
        top + sizePx * LINE * 1.03,
        width,
        sizePx * 0.3,
        share,
        votes === most && sum > 0 ? room.accent : '#A7AFB7',
      ),
    );
    top += sizePx * LINE * 1.55;
  }
  return marks;
}
