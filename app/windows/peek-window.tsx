import { useEffect, useRef, useState } from 'react';
import { cleanName, cleanText } from '~/core/audience/words';
import { keysOf } from '~/core/commands/keys';
import { rundownInUse, segmentOn } from '~/core/rundown/rundown';
import { recordsOf } from '~/core/show/document';
import { OverText } from '../plan/over-text';
import { useTimes } from '../plan/use-times';
import { useStanding } from '../sound/use-standing';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const MOST_CHAT = 30;

/** Chat, clock, what is next, notes and the voice's mute, small enough to stay beside a game. */
export function PeekWindow({ opened }: { opened: Window }) {
  const { control, say } = useStudio();
  const document = useDocument();
  const programme = useDesk((now) => now.programme);
  const events = useBus((now) => now.events);
  const relay = useBus((now) => now.relay);
  const { t } = useTranslation();
  const rundown = rundownInUse(document, programme);
  const times = useTimes(rundown);
  const next = control.next();
  const voice = recordsOf(document, 'channel').find(({ role }) => role === 'voice');
  const trouble = relay?.session?.destinations.find(
    ({ state }) => !['live', 'connecting', 'waiting'].includes(state),
  );
  const chat = events.filter((event) => event.type === 'chat').slice(-MOST_CHAT);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    list.current?.scrollTo({ top: list.current.scrollHeight });
  }, [chat.length]);
  const take = () =>
    void control.press({ command: 'take', params: {} }, 'page').then((problem) => problem && say(problem));
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (keysOf(event) === 'Enter' && (event.target as Element).tagName !== 'BUTTON') take();
    };
    opened.addEventListener('keydown', down);
    return () => opened.removeEventListener('keydown', down);
  });
  const on = segmentOn(document, programme);
  return (
    <div className="peek">
      <div className="peek-top">
        <Clock />
        <OverText seconds={times?.overSeconds ?? null} />
        <span className="room" />
        <span className="peek-health" data-trouble={trouble !== undefined}>
          {trouble ? `◆ ${trouble.name}` : `● ${t('windows.allGood')}`}
        </span>
      </div>
      <div className="peek-next">
        <span>
          <small>{t('air.next')}</small>
          <b className="one-line">
            {next
              ? 'segment' in next
                ? next.segment.name
                : (document.get(next.stop.sceneId)?.name ?? '')
              : t('air.nothingNext')}
          </b>
        </span>
        <button type="button" className="peek-take" disabled={!next} onClick={take}>
          {t('air.take')}
        </button>
      </div>
      {on && on.notes !== '' && <p className="peek-notes">{on.notes}</p>}
      <div ref={list} className="peek-chat" role="log" aria-label={t('air.chat')}>
        {chat.map((message) =>
          message.type === 'chat' ? (
            <p key={message.seq}>
              <b>{cleanName(message.viewer)}</b> {cleanText(message.text, 200)}
            </p>
          ) : null,
        )}
      </div>
      {voice && <VoiceMute channel={voice} />}
    </div>
  );
}

function VoiceMute({ channel }: { channel: Parameters<typeof useStanding>[0] }) {
  const { muted, setMuted } = useStanding(channel);
  const { t } = useTranslation();
  return (
    <button type="button" className="peek-mute" aria-pressed={muted} onClick={() => setMuted(!muted)}>
      {t(muted ? 'windows.muted' : 'windows.mute', { name: channel.name })}
    </button>
  );
}

/** How long the show has been on air; the time of day before. */
export function Clock() {
  const broadcast = useBus((now) => now.broadcast);
  const [nowMs, setNowMs] = useState(Date.now);
  useEffect(() => {
    const timer = setInterval(() => setNowMs(Date.now()), 500);
    return () => clearInterval(timer);
  }, []);
  const two = (n: number) => String(n).padStart(2, '0');
  if (broadcast.state !== 'on') {
    const now = new Date(nowMs);
    return <span className="figure own-clock">{`${two(now.getHours())}:${two(now.getMinutes())}`}</span>;
  }
  const seconds = Math.max(0, Math.floor((nowMs - broadcast.startedAtMs) / 1000));
  return (
    <span className="figure own-clock" data-live={broadcast.purpose === 'live'}>
      {`${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`}
    </span>
  );
}
