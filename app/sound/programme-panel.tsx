import { withMinus } from '~/core/format/numbers';
import { findRecord } from '~/core/show/document';
import { dbOfAmplitude } from '~/core/sound/decibel';
import { balanceVerdict } from '~/core/sound/voice-balance';
import { ChoiceRow } from '../studio/choice-row';
import { NameField } from '../studio/name-field';
import { useDocument, useStudio } from '../studio/studio-context';
import { MeterTrack } from './meter-track';
import { levelText, useProgramme } from './use-readings';
import { useTranslation } from '../words/words';

const TARGETS = [
  { value: '-14', words: '−14', title: 'Loud: music and short clips' },
  { value: '-16', words: '−16', title: 'Talk and games: what most platforms bring everything to' },
  { value: '-18', words: '−18', title: 'Calm, with room for loud moments' },
  { value: '-23', words: '−23', title: 'Broadcast (EBU R 128)' },
] as const;

/** The programme as the last row under the channels. */
export function ProgrammeRow() {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const programme = useProgramme((reading) => {
    const down = -dbOfAmplitude(reading.limiterGain || 1);
    return {
      held: levelText(dbOfAmplitude(reading.held), 'dB'),
      short: reading.shortTermLufs > -70 ? withMinus(reading.shortTermLufs.toFixed(1)) : '—',
      momentary: levelText(reading.momentaryLufs, 'LUFS'),
      limiter: down > 0.05 ? `limiting ${down.toFixed(1)} dB` : 'Limiter idle',
    };
  });
  return (
    <div role="group" aria-label={t('sound.programme')} className="channel-row programme-row">
      <div style={{ padding: '4px 4px 4px 16px' }}>
        <div className="channel-title">{t('sound.programme')}</div>
        <div className="channel-words">{t('sound.whatViewersHear')}</div>
      </div>
      <MeterTrack name="the programme" read={() => desk.readProgramme()} gainDb={0} muted={false} />
      <span className="figure" style={{ textAlign: 'right', fontSize: 12.5 }} title={t('sound.heldPeak')}>
        {programme.held}
      </span>
      <span className="figure channel-lufs" title={t('sound.loudnessOfTheLast')}>
        {programme.short}
      </span>
      <div className="channel-buttons">
        <span className="quiet-chip figure" data-testid="momentary" title={t('sound.loudnessOfTheLast0')}>
          {programme.momentary}
        </span>
        <span
          className="quiet-chip figure"
          title={t('sound.safetyLimiter')}
          style={{ minWidth: 128, textAlign: 'center' }}
        >
          {programme.limiter}
        </span>
      </div>
    </div>
  );
}

/** Whether the voice can be followed, in words. */
export function BalanceChip() {
  const { t } = useTranslation();
  const { text, fine } = useProgramme(({ ratioLu }) => balanceVerdict(ratioLu));
  return (
    <span
      className="quiet-chip"
      data-testid="balance"
      title={t('sound.howFarTheVoicesStand')}
      style={{ color: fine ? undefined : 'var(--rose)' }}
    >
      {fine ? '' : '◆ '}
      {text}
    </span>
  );
}

/** Loudness in full, what to aim at, and the names of the recording tracks. */
export function ProgrammePanel({ showId }: { showId: string }) {
  const { t } = useTranslation();
  const { store, desk } = useStudio();
  const show = findRecord(useDocument(), 'show', showId);
  const figures = useProgramme((programme) => {
    const off = programme.integratedLufs - (show?.sound.targetLufs ?? 0);
    return [
      ['Momentary', levelText(programme.momentaryLufs, 'LUFS'), 'last 0.4 s'],
      ['Short-term', levelText(programme.shortTermLufs, 'LUFS'), 'last 3 s'],
      [
        'Since the start',
        levelText(programme.integratedLufs || -Infinity, 'LUFS'),
        Number.isFinite(off)
          ? `${Math.abs(off).toFixed(1)} LU ${off > 0 ? 'over' : 'under'} the target`
          : 'integrated',
      ],
      ['Range', `${programme.rangeLu.toFixed(1)} LU`, 'between quiet and loud'],
      [
        'True peak',
        levelText(dbOfAmplitude(programme.truePeak), 'dBTP'),
        `held at ${show?.sound.ceilingDbtp}`.replace('-', '−'),
      ],
      ['RMS', levelText(dbOfAmplitude(programme.rms), 'dB'), 'Last 0.3 s'],
      ['Voices', levelText(programme.voiceLufs, 'LUFS'), 'last 3 s'],
      ['Everything else', levelText(programme.restLufs, 'LUFS'), 'last 3 s'],
    ] as const;
  });
  if (!show) return null;
  const { sound } = show;
  const set = (what: string, part: Partial<typeof sound>) =>
    store.edit(what, [{ ...show, sound: { ...sound, ...part } }]);
  return (
    <div className="programme-panel">
      <div className="facts">
        {figures.map(([name, value, why]) => (
          <div key={name} className="fact">
            <div style={{ color: 'var(--quiet)', fontSize: 12 }}>{name}</div>
            <div className="figure" style={{ fontSize: 16, margin: '2px 0', whiteSpace: 'nowrap' }}>
              {value}
            </div>
            <div style={{ color: 'var(--quiet)', fontSize: 11.5 }}>{why}</div>
          </div>
        ))}
      </div>
      <div>
        <h3 className="small-head">{t('sound.targetLoudnessLufs')}</h3>
        <ChoiceRow
          label={t('sound.targetLoudness')}
          options={TARGETS}
          value={String(sound.targetLufs) as (typeof TARGETS)[number]['value']}
          onChange={(value) => set(t('sound.targetLoudness'), { targetLufs: Number(value) })}
        />
        <h3 className="small-head">{t('sound.ceilingDbtp')}</h3>
        <ChoiceRow
          label={t('sound.ceiling')}
          options={[
            { value: '-1', words: '−1', title: t('sound.survivesThePlatformsOwnEncoding') },
            { value: '-2', words: '−2' },
            { value: '-3', words: '−3' },
          ]}
          value={String(sound.ceilingDbtp)}
          onChange={(value) => set(t('sound.ceiling'), { ceilingDbtp: Number(value) })}
        />
        <button
          type="button"
          className="chip tall"
          style={{ marginTop: 12 }}
          onClick={() => desk.sound.resetProgramme()}
        >
          {t('sound.measureFromNowOn')}
        </button>
      </div>
      <div>
        <h3 className="small-head">{t('sound.recordingTracks')}</h3>
        <ol className="tracks">
          {sound.trackNames.map((name, i) => (
            <li key={i}>
              <span className="figure">{i + 1}</span>
              <NameField
                name={name}
                label={t('sound.nameOfTrackNumber', { number: i + 1 })}
                onRename={(next) =>
                  set(t('sound.nameOfATrack'), {
                    trackNames: sound.trackNames.map((n, k) => (k === i ? next : n)),
                  })
                }
              />
            </li>
          ))}
        </ol>
      </div>
    </div>
  );
}
