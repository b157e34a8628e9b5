/** What a widget looks like at a moment: a pure function of its settings, what is known of the audience, and the box. */
import { clockText, countdownEnd, durationText, secondsLeft } from '../countdown';
import { eventWords, type ViewerEvent } from '../events';
import { goalView } from '../goals';
import { moneyText } from '../money';
import { streakAt } from '../streak';
import { pictureName, pictureText } from '../picture-words';
import { cleanName, cleanText } from '../words';
import { viewersAt, viewerSum, type AudienceNow } from './audience-now';
import { layoutReadOut } from './chat-panel';
import { creditsShare, layoutCredits } from './credits';
import { lineOf, LINE, padOf, rowsOf, typeSize, type Mark, type Room } from './drawing';
import { layoutTitle, titleShare } from './title';
import type { WidgetSettings } from './widget-settings';

const TRACK = '#ffffff2e';

/** A bar that fills from the left. */
function bar(x: number, y: number, width: number, height: number, share: number, colour: string): Mark[] {
  const cornerPx = height / 2;
  const marks: Mark[] = [{ kind: 'box', x, y, width, height, colour: TRACK, cornerPx }];
  if (share > 0)
    marks.push({ kind: 'box', x, y, width: Math.max(height, width * share), height, colour, cornerPx });
  return marks;
}

/** A line of words, a bar, and a line below, in the middle of the box. */
function gauge(
  room: Room,
  left: string,
  right: string,
  below: string,
  share: number,
  colour: string,
): Mark[] {
  const pad = padOf(room);
  const rows = below === '' ? 1.85 : 2.75;
  const sizePx = Math.max(0.1, Math.min(room.style.sizePx * room.scale, (room.height - pad) / (rows * LINE)));
  const width = room.width - 2 * pad;
  let top = (room.height - rows * sizePx * LINE) / 2;
  const rightWide = Math.min(width * 0.45, room.measure(right, sizePx, 700) + 1);
  const marks = [
    ...lineOf(
      room,
      left,
      { x: pad, top, width: width - rightWide - sizePx * 0.4, sizePx },
      { align: 'left' },
    ),
    ...lineOf(
      room,
      right,
      { x: pad + width - rightWide, top, width: rightWide, sizePx },
      { align: 'right', weight: 700, colour },
    ),
  ];
  top += sizePx * (LINE + 0.12);
  marks.push(...bar(pad, top, width, sizePx * 0.42, share, colour));
  if (below !== '')
    marks.push(
      ...lineOf(
        room,
        below,
        { x: pad, top: top + sizePx * 0.62, width, sizePx: sizePx * 0.78 },
        { align: 'left', colour: '#A7AFB7' },
      ),
    );
  return marks;
}

function named(event: ViewerEvent, { settings }: AudienceNow): string {
  return pictureName(event.viewer, settings);
}

function supporters(show: 'latest' | 'largest' | 'evening', now: AudienceNow, room: Room): Mark[] {
  const { latest, top } = now.book.facts;
  const said = (event: ViewerEvent | undefined, head: string) =>
    event
      ? `${head}: ${named(event, now)}${event.money ? ` · ${moneyText(event.money)}` : event.count ? ` · ${event.count}` : ''}`
      : null;
  let words: (string | null)[];
  if (show === 'evening') {
    const names = now.book
      .supporters()
      .slice(0, 20)
      .map((s) => pictureName(s.name, now.settings));
    words = [names.length === 0 ? null : `Supporters tonight: ${names.join(', ')}`];
  } else if (show === 'largest')
    words = [said(top.donation, 'Largest gift'), said(top.cheer, 'Largest cheer')];
  else
    words = [
      said(latest.donation, 'Latest gift'),
      said(latest.subscription, 'Latest subscriber'),
      said(latest.follow, 'Latest follower'),
    ];
  const known = words.filter((word) => word !== null);
  const pad = padOf(room);
  const sizePx = typeSize(room);
  const width = (room.width - 2 * pad) / Math.max(1, known.length);
  const texts = known.length === 0 ? ['No supporters yet: be the first'] : known;
  return texts.flatMap((text, i) =>
    lineOf(room, text, {
      x: pad + i * width,
      top: (room.height - sizePx * LINE) / 2,
      width: Math.max(
        1,
        (known.length === 0 ? room.width - 2 * pad : width) - (i < known.length - 1 ? sizePx * 0.6 : 0),
      ),
      sizePx,
    }),
  );
}

/** @returns marks with all text inside the box; boxes and credits are cut by it */
export function layoutWidget(widget: WidgetSettings, now: AudienceNow, room: Room): Mark[] {
  const { nowMs } = now;
  switch (widget.of) {
    case 'viewers': {
      const sum = viewerSum(now.viewers, nowMs);
      if (widget.show === 'sum')
        return rowsOf(room, [{ text: sum === null ? '— watching' : `${sum} watching` }]);
      return rowsOf(
        room,
        now.viewers.size === 0
          ? [{ text: '— watching' }]
          : [...now.viewers].map(([platform, reading]) => ({
              text: `${platform} ${viewersAt(reading, nowMs)}`,
            })),
      );
    }
    case 'supporters':
      return supporters(widget.show, now, room);
    case 'recent': {
      const events = now.book.facts.recent.slice(-widget.lines).reverse();
      return rowsOf(
        room,
        events.length === 0
          ? [{ text: 'Nothing yet' }]
          : events.map((event) => ({
              text: `${named(event, now)} ${pictureText(eventWords(event, moneyText), now.settings, 120)}`,
            })),
      );
    }
    case 'streak': {
      const { points, level, share } = streakAt(now.book.facts.supportMs, widget, nowMs);
      const reached = [...widget.levels].sort((a, b) => a.from - b.from)[level];
      // Nothing to see before the first level: a streak appears when there is one.
      if (!reached) return points > 0.5 ? gauge(room, 'Warming up', '', '', share, room.accent) : [];
      return gauge(
        room,
        cleanText(reached.name, 60),
        `× ${Math.max(1, Math.floor(points))}`,
        '',
        share,
        reached.colour,
      );
    }
    case 'goal': {
      const goal = now.goals.find((g) => g.id === widget.goalId);
      if (!goal) return rowsOf(room, [{ text: 'This goal was removed' }]);
      const view = goalView(goal, now.book.goal(goal.id), now.settings.currency, nowMs);
      const below = [`${view.valueText} of ${view.targetText}`, view.timeText].filter(Boolean).join(' · ');
      return gauge(
        room,
        view.reached ? `${goal.name}: done!` : goal.name,
        `${view.percent}%`,
        below,
        view.share,
        room.accent,
      );
    }
    case 'countdown': {
      const left = secondsLeft(
        countdownEnd(widget, widget.restart ? now.sceneSinceMs : now.sceneFirstMs, now.zoneOffsetMinutes),
        nowMs,
      );
      return rowsOf(room, [{ text: left === 0 ? cleanText(widget.endText, 80) : durationText(left) }]);
    }
    case 'clock':
      return rowsOf(room, [{ text: clockText(nowMs, now.zoneOffsetMinutes, widget.seconds) }]);
    case 'stopwatch': {
      const since = widget.since === 'scene' ? now.sceneSinceMs : now.broadcastSinceMs;
      return rowsOf(room, [{ text: since === null ? '0:00' : durationText((nowMs - since) / 1000) }]);
    }
    case 'poll': {
      const own = now.ownPoll;
      if (own) return poll(own, own, now.settings, room);
      const { poll: event } = now.book.facts;
      if (!event?.poll) return rowsOf(room, [{ text: 'No poll yet' }]);
      return poll(event, event.poll, now.settings, room);
    }
    case 'credits':
      return layoutCredits(widget, now, room);
    case 'readOut':
      return now.readOut ? layoutReadOut(now.readOut.message, room) : [];
    case 'title':
      return layoutTitle(widget.look, now.title, nowMs, room);
    case 'speaking':
      return now.speaking.length === 0
        ? []
        : rowsOf(
            room,
            now.speaking.slice(0, 8).map((name) => ({ text: `● ${cleanName(name)}` })),
          );
  }
}

function poll(
  event: Pick<ViewerEvent, 'title'>,
  { options, open }: NonNullable<ViewerEvent['poll']>,
  settings: AudienceNow['settings'],
  room: Room,
): Mark[] {
  const shown = options.slice(0, 8);
  const sum = shown.reduce((all, o) => all + o.votes, 0);
  const most = Math.max(...shown.map((o) => o.votes));
  const pad = padOf(room);
  const rows = 1.2 + shown.length * 1.55;
  const sizePx = Math.max(0.1, Math.min(room.style.sizePx * room.scale, (room.height - pad) / (rows * LINE)));
  const width = room.width - 2 * pad;
  let top = (room.height - rows * sizePx * LINE) / 2;
  const marks = lineOf(
    room,
    `${pictureText(event.title, settings, 100)}${open ? '' : ' (closed)'}`,
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

/** A text that differs whenever the widget's picture may: what is the same need not be laid out again. */
export function widgetStamp(widget: WidgetSettings, now: AudienceNow): string {
  const { nowMs, book } = now;
  switch (widget.of) {
    case 'viewers':
      return `${viewerSum(now.viewers, nowMs)}/${widget.show === 'each' ? [...now.viewers.values()].map((v) => viewersAt(v, nowMs)).join() : ''}`;
    case 'supporters':
    case 'recent':
      return now.eventStamp;
    case 'poll':
      return now.ownPoll ? JSON.stringify(now.ownPoll.options) : now.eventStamp;
    case 'goal':
      return `${now.eventStamp}/${Math.floor(nowMs / 60_000)}`;
    case 'streak': {
      const { points, level, share } = streakAt(book.facts.supportMs, widget, nowMs);
      return `${level}/${Math.floor(points)}/${Math.round(share * 400)}/${points > 0.5}`;
    }
    case 'countdown':
      return String(
        secondsLeft(
          countdownEnd(widget, widget.restart ? now.sceneSinceMs : now.sceneFirstMs, now.zoneOffsetMinutes),
          nowMs,
        ),
      );
    case 'clock':
      return clockText(nowMs, now.zoneOffsetMinutes, widget.seconds);
    case 'stopwatch': {
      const since = widget.since === 'scene' ? now.sceneSinceMs : now.broadcastSinceMs;
      return String(since === null ? 0 : Math.floor((nowMs - since) / 1000));
    }
    case 'credits':
      return `${book.stamp}/${creditsShare(widget, now)}`;
    case 'readOut':
      return now.readOut?.message.key ?? '';
    case 'title': {
      const shown = titleShare(now.title, nowMs);
      if (!now.title || !shown) return '';
      const { line1, line2 } = now.title;
      // Standing still it is one picture; on its way each step is another.
      return `${line1}\n${line2}/${Math.round(shown.share * 500)}`;
    }
    case 'speaking':
      return now.speaking.join();
  }
}
