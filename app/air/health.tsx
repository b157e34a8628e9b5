import { useEffect, useState } from 'react';
import { balanceVerdict } from '~/core/sound/voice-balance';
import { useWantedFps } from '../studio/use-wanted-fps';
import { useBus, useDesk, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

interface Line {
  name: string;
  reading: string;
  bad: boolean;
}

/** Where the signal stands, by cause: composing, encoding, line, each destination, recording. */
export function Health() {
  const { t } = useTranslation();
  const stage = useDesk((now) => now.stage);
  const uplink = useDesk((now) => now.uplink);
  const live = useDesk((now) => now.live);
  const relay = useBus((now) => now.relay);
  const broadcast = useBus((now) => now.broadcast);
  const { desk } = useStudio();
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => tick((n) => n + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  const wantedFps = useWantedFps();
  const session = relay?.session;
  const { ratioLu, load } = desk.readProgramme();
  const balance = balanceVerdict(ratioLu);
  const lines: Line[] = [
    {
      name: 'Rendering',
      reading: stage ? `${stage.fps} fps, ${stage.skipped} dropped` : 'starting',
      bad: stage !== null && wantedFps !== null && stage.fps < wantedFps * 0.9,
    },
    {
      name: 'Sound',
      reading: `Load ${Math.round(load * 100)}%, ${stage?.clockSlips ?? 0} clock slips`,
      bad: load > 0.6,
    },
    { name: 'Voice', reading: balance.text.replace(/^voice /, ''), bad: !balance.fine },
  ];
  if (live && stage) {
    lines.push({
      name: 'Encoder',
      reading: `${stage.encoderBusy + stage.leftOut} dropped`,
      bad: stage.encoderBusy > stage.due * 0.02,
    });
    lines.push({
      name: 'Connection',
      reading: uplink
        ? uplink.state === 'live'
          ? `${uplink.kbps} kbps, ${uplink.unackedMs} ms`
          : uplink.message || uplink.state
        : 'starting',
      bad: uplink !== null && uplink.state !== 'live',
    });
    for (const d of session?.destinations ?? [])
      lines.push({
        name: d.name,
        reading: d.state === 'live' ? `${d.kbps} kbps, ${d.framesDropped} dropped` : d.message || d.state,
        bad: !['live', 'connecting'].includes(d.state),
      });
    if (session?.recording)
      lines.push({
        name: 'Recording',
        reading:
          session.recording.message ||
          session.recording.room ||
          `${(session.recording.bytes / 1e6).toFixed(1)} MB`,
        bad: session.recording.message !== '' || session.recording.room !== '',
      });
  }
  return (
    <div>
      <h3 style={{ margin: '0 0 6px', fontSize: 13, color: 'var(--quiet)' }}>{t('shell.health')}</h3>
      {lines.map((line) => (
        <div
          key={line.name}
          style={{ display: 'flex', gap: 8, alignItems: 'baseline', lineHeight: '20px', fontSize: 13 }}
        >
          <span aria-hidden style={{ color: line.bad ? 'var(--rose)' : 'var(--moss)' }}>
            {line.bad ? '◆' : '●'}
          </span>
          <span>{line.name}</span>
          <span
            className="figure"
            style={{
              flex: 1,
              textAlign: 'right',
              fontSize: 12,
              color: line.bad ? 'var(--rose)' : 'var(--quiet)',
            }}
          >
            {line.reading}
          </span>
        </div>
      ))}
      {!live && (
        <p style={{ color: 'var(--quiet)', fontSize: 12.5, margin: '8px 0 0' }}>
          {broadcast.state === 'relayGone' ? broadcast.message : t('shell.notOnAirPressGo')}
        </p>
      )}
    </div>
  );
}
