import { useEffect, useRef } from 'react';
import type { AudienceEvent } from '~/core/audience/events';
import { useBus } from '../studio/studio-context';

const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** Chat and events of all platforms in one list, newest at the bottom; stays where the reader has scrolled to. */
export function EventList({ dense = false }: { dense?: boolean }) {
  const { events } = useBus();
  const box = useRef<HTMLDivElement>(null);
  const follow = useRef(true);
  useEffect(() => {
    const element = box.current;
    if (element && follow.current) element.scrollTop = element.scrollHeight;
  }, [events]);
  return (
    <div
      ref={box}
      role="log"
      aria-label="Chat and events"
      tabIndex={0}
      onScroll={({ currentTarget: e }) =>
        (follow.current = e.scrollHeight - e.scrollTop - e.clientHeight < 40)
      }
      style={{ overflowY: 'auto', height: '100%', minHeight: 0 }}
    >
      {events.length === 0 && (
        <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>
          Chat and follows arrive here as soon as a platform is connected. Try the test button to see one.
        </p>
      )}
      {events.map((event) => (
        <EventRow key={`${event.platform}/${event.id}`} event={event} dense={dense} />
      ))}
    </div>
  );
}

function EventRow({ event, dense }: { event: AudienceEvent; dense: boolean }) {
  const where = event.type === 'follow' && event.test ? 'test' : event.platform;
  const isFollow = event.type === 'follow';
  return (
    <div
      style={{
        display: 'flex',
        gap: 8,
        padding: isFollow ? '7px 10px' : '4px 10px',
        margin: isFollow ? '4px 0' : 0,
        borderRadius: 6,
        background: isFollow ? 'color-mix(in srgb, var(--moss) 16%, transparent)' : undefined,
        fontSize: dense ? 13 : 14,
        lineHeight: 1.4,
      }}
    >
      {!dense && (
        <span className="figure" style={{ color: 'var(--quiet)', fontSize: 11.5, paddingTop: 2 }}>
          {TIME.format(event.atMs)}
        </span>
      )}
      <span style={{ overflowWrap: 'anywhere', flex: 1 }}>
        <b style={{ color: isFollow ? 'var(--moss)' : 'var(--glacier)', fontWeight: 650 }}>{event.viewer}</b>{' '}
        {event.type === 'chat' ? event.text : 'follows'}
      </span>
      <span style={{ color: 'var(--quiet)', fontSize: 11.5, paddingTop: 2 }}>{where}</span>
    </div>
  );
}
