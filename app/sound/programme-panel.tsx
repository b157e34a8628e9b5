import { useEffect, useState } from 'react';
import { dbOfAmplitude } from '~/core/sound/decibel';
import { useStudio } from '../studio/studio-context';
import { ROW_COLUMNS } from './channel-row';
import { MeterTrack } from './meter-track';

/** Readings of the programme, refreshed as fast as figures can be read. */
export function useProgramme() {
  const { desk } = useStudio();
  const [reading, setReading] = useState(() => desk.readProgramme());
  useEffect(() => {
    const timer = setInterval(() => setReading(desk.readProgramme()), 150);
    return () => clearInterval(timer);
  }, [desk]);
  return reading;
}

export function levelText(value: number, unit: string): string {
  return Number.isFinite(value) && value > -99
    ? `${value.toFixed(1).replace('-', '−')} ${unit}`
    : `— ${unit}`;
}

/** What viewers hear: meter, loudness, true peak, limiter. */
export function ProgrammePanel() {
  const { desk } = useStudio();
  const programme = useProgramme();
  const reduction = -dbOfAmplitude(programme.limiterGain || 1);
  const figures = [
    ['Momentary', levelText(programme.momentaryLufs, 'LUFS'), 'loudness of the last 0.4 s'],
    ['Short-term', levelText(programme.shortTermLufs, 'LUFS'), 'of the last 3 s; aim at −16 to −14'],
    [
      'Whole broadcast',
      levelText(programme.integratedLufs || -Infinity, 'LUFS'),
      'integrated since the start',
    ],
    ['True peak', levelText(dbOfAmplitude(programme.truePeak), 'dBTP'), 'highest; the limiter holds −1'],
    [
      'Limiter',
      reduction > 0.05 ? `−${reduction.toFixed(1)} dB` : 'not working',
      'safety only: mix below it',
    ],
  ] as const;
  return (
    <>
      <div
        role="group"
        aria-label="Programme"
        style={{
          display: 'grid',
          gridTemplateColumns: ROW_COLUMNS,
          alignItems: 'center',
          gap: 16,
          minHeight: 60,
          padding: '2px 8px',
        }}
      >
        <div>
          <div style={{ fontWeight: 600, fontSize: 14 }}>Programme</div>
          <div style={{ color: 'var(--quiet)', fontSize: 12 }}>What viewers hear</div>
        </div>
        <MeterTrack
          name="the programme"
          read={() => programmeStrip(desk.readProgramme())}
          gainDb={0}
          muted={false}
        />
        <span className="figure" style={{ textAlign: 'right', fontSize: 13, paddingRight: 2 }}>
          {levelText(dbOfAmplitude(programme.held), 'dB')}
        </span>
        <span className="figure" style={{ textAlign: 'right', fontSize: 13 }} data-testid="momentary">
          {levelText(programme.momentaryLufs, 'LUFS')}
        </span>
      </div>
      <div
        style={{ display: 'grid', gridTemplateColumns: 'repeat(5, minmax(0, 1fr))', gap: 10, marginTop: 14 }}
      >
        {figures.map(([name, value, why]) => (
          <div
            key={name}
            style={{ background: 'var(--raised)', borderRadius: 8, padding: '10px 12px', minWidth: 0 }}
          >
            <div style={{ color: 'var(--quiet)', fontSize: 12.5 }}>{name}</div>
            <div className="figure" style={{ fontSize: 18, margin: '4px 0', whiteSpace: 'nowrap' }}>
              {value}
            </div>
            <div style={{ color: 'var(--quiet)', fontSize: 12, lineHeight: 1.35 }}>{why}</div>
          </div>
        ))}
      </div>
    </>
  );
}

function programmeStrip({ level, held, clipped }: { level: number; held: number; clipped: number }) {
  return { level, held, clipped };
}
