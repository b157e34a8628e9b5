import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { ALERT_FIELDS, AMOUNT_OF } from '~/core/audience/alert-rules';
import { minorDigits } from '~/core/audience/money';
import { messageOf } from '~/core/fault';
import { recordsOf } from '~/core/show/document';
import {
  ALERT_LAYOUTS,
  ALERT_MOTIONS,
  type AlertMotion,
  type AlertRuleRecord,
} from '~/core/show/audience-records';
import { DEFAULT_TEXT_STYLE, SIMULATED_EFFECTS } from '~/core/show/records';
import { ChoiceRow } from '../studio/choice-row';
import { CommitField } from '../studio/commit-field';
import { LiveView } from '../studio/live-view';
import { NumberField } from '../studio/number-field';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { FieldHeading, FIELD_GRID } from '../stage/field-layout';
import { StyleFields } from '../stage/text-fields';
import { bringIn } from '../stage/upload-file';
import { useTranslation } from '../words/words';

const MOTION_WORDS: Record<AlertMotion, string> = {
  drop: 'From above',
  rise: 'From below',
  slide: 'From the side',
  zoom: 'Grows',
  fade: 'Fades',
};
const LAYOUT_WORDS = { above: 'Above', beside: 'Beside', behind: 'Behind' } as const;

/** Everything one alert can be set to. */
export function RuleEditor({
  rule,
  currency,
  onTest,
  onRemoved,
}: {
  rule: AlertRuleRecord;
  currency: string;
  onTest: (count: number) => void;
  onRemoved: () => void;
}) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const problem = useDesk((now) => now.sound.problems.get(rule.id));
  const set = (what: string, part: Partial<AlertRuleRecord>) =>
    store.edit(t('audience.whatOfName', { what, name: rule.name }), [{ ...rule, ...part }]);
  const counted = AMOUNT_OF[rule.event];
  const unit = 10 ** minorDigits(currency);
  const number = (
    label: string,
    unitWords: string,
    key:
      'seconds' | 'mergeSeconds' | 'coolDownSeconds' | 'perViewerSeconds' | 'motionSeconds' | 'soundGainDb',
    min: number,
    max: number,
    digits = 0,
  ) => (
    <NumberField
      label={label}
      unit={unitWords}
      value={rule[key]}
      min={min}
      max={max}
      digits={digits}
      step={digits > 0 ? 0.1 : 1}
      onCommit={(value) => set(label, { [key]: value })}
    />
  );
  return (
    <section
      aria-label={t('audience.alertName', { name: rule.name })}
      style={{ overflowY: 'auto', minHeight: 0, padding: '8px 4px 0 0' }}
    >
      <div style={{ height: 92, marginBottom: 14, borderRadius: 6, overflow: 'hidden' }}>
        <LiveView
          subject={{ type: 'alertPreview', ruleId: rule.id, frame: 'wide' }}
          label={t('audience.previewOfNameNotOn', { name: rule.name })}
        />
      </div>
      <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
        <div style={{ flex: 1, minWidth: 0 }}>
          <CommitField
            label={t('audience.name')}
            value={rule.name}
            onCommit={(name) => set(t('audience.name'), { name })}
          />
        </div>
        <Toggle
          label={t('audience.on')}
          on={rule.on}
          onChange={(on) => set(on ? t('audience.switchingOn') : t('audience.switchingOff'), { on })}
        />
      </div>
      <div style={{ marginTop: 10 }}>
        <CommitField
          label={t('audience.text')}
          value={rule.text}
          max={300}
          lines={2}
          help={ALERT_FIELDS.map((name) => `{{${name}}}`).join(' ')}
          onCommit={(text) => set(t('audience.words'), { text })}
        />
      </div>
      <div style={{ ...FIELD_GRID, marginTop: 8 }}>
        {counted !== null && (
          <NumberField
            label={t('audience.minimumAmount')}
            unit={counted === 'money' ? currency : counted === 'months' ? 'months' : ''}
            value={counted === 'money' ? rule.from / unit : rule.from}
            min={0}
            max={1e9}
            digits={counted === 'money' ? minorDigits(currency) : 0}
            onCommit={(value) =>
              set(t('audience.amount'), { from: Math.round(counted === 'money' ? value * unit : value) })
            }
          />
        )}
        {number('Duration', 's', 'seconds', 1, 30, 1)}
        {rule.event === 'subscription' && (
          <TextField
            select
            label={t('audience.which')}
            value={rule.way}
            onChange={(e) => set(t('audience.kind'), { way: e.target.value as AlertRuleRecord['way'] })}
          >
            <MenuItem value="any">{t('audience.all')}</MenuItem>
            <MenuItem value="new">{t('audience.newOnes')}</MenuItem>
            <MenuItem value="renewed">{t('audience.renewedOnes')}</MenuItem>
            <MenuItem value="gifted">{t('audience.gifts')}</MenuItem>
          </TextField>
        )}
        {['reward', 'command', 'other', 'order'].includes(rule.event) && (
          <CommitField
            label={t('audience.onlyFor')}
            value={rule.title}
            max={80}
            allowEmpty
            onCommit={(title) => set(t('audience.nameAskedFor'), { title })}
          />
        )}
      </div>

      <FieldHeading>{t('audience.pictureAndSound')}</FieldHeading>
      <div style={{ display: 'grid', gap: 6 }}>
        <PictureOfAlert rule={rule} set={set} />
        {rule.picture && (
          <ChoiceRow
            label={t('audience.pictureStands')}
            value={rule.layout}
            options={ALERT_LAYOUTS.map((value) => ({ value, words: LAYOUT_WORDS[value] }))}
            onChange={(layout) => set(t('audience.layout'), { layout })}
          />
        )}
        <div style={FIELD_GRID}>
          <SoundOfAlert rule={rule} set={set} />
          {rule.sound && number('Sound', 'dB', 'soundGainDb', -60, 10, 1)}
        </div>
        <SpokenAlert rule={rule} set={set} />
        {problem && (
          <p role="alert" style={{ color: 'var(--rose)', fontSize: 12.5, margin: 0 }}>
            {problem}
          </p>
        )}
      </div>

      <FieldHeading>{t('audience.motion')}</FieldHeading>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 6 }}>
        {(['motionIn', 'motionOut'] as const).map((key) => (
          <TextField
            key={key}
            select
            label={key === 'motionIn' ? t('audience.comes') : t('audience.leaves')}
            value={rule[key]}
            onChange={(e) => set(t('audience.motion'), { [key]: e.target.value })}
          >
            {ALERT_MOTIONS.map((motion) => (
              <MenuItem key={motion} value={motion}>
                {MOTION_WORDS[motion]}
              </MenuItem>
            ))}
          </TextField>
        ))}
        {number('Animation time', 's', 'motionSeconds', 0, 3, 1)}
      </div>

      <FieldHeading>{t('audience.queue')}</FieldHeading>
      <ChoiceRow
        label={t('audience.priority')}
        value={rule.priority}
        options={[
          { value: 'low', words: t('audience.last') },
          { value: 'normal', words: t('audience.inOrder') },
          { value: 'high', words: t('audience.first') },
        ]}
        onChange={(priority) => set(t('audience.priority'), { priority })}
      />
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 6, marginTop: 6 }}>
        {number('Merge within', 's', 'mergeSeconds', 0, 600)}
        {number('Cooldown', 's', 'coolDownSeconds', 0, 3600)}
        {number('Per-viewer cooldown', 's', 'perViewerSeconds', 0, 86_400)}
      </div>
      <p style={{ color: 'var(--quiet)', fontSize: 12, margin: '6px 0 0', lineHeight: 1.4 }}>
        {t('audience.alertsThatWaitNoFurther')}
      </p>

      <FieldHeading>{t('audience.look')}</FieldHeading>
      {rule.style === null ? (
        <Button
          onClick={() =>
            set(t('audience.look'), {
              style: { ...DEFAULT_TEXT_STYLE, align: 'center', box: '#63BDBBF2', colour: '#10201F' },
            })
          }
        >
          {t('audience.customStyle')}
        </Button>
      ) : (
        <>
          <StyleFields style={rule.style} onChange={(style) => set(t('audience.look'), { style })} />
          <Button sx={{ mt: 0.75 }} onClick={() => set(t('audience.look'), { style: null })}>
            {t('audience.theLookOfItsLayer')}
          </Button>
        </>
      )}
      <div style={{ display: 'flex', gap: 6, marginTop: 14 }}>
        <Button onClick={() => onTest(1)} sx={{ color: 'var(--glacier)' }}>
          {t('audience.testIt')}
        </Button>
        <Button onClick={() => onTest(40)}>{t('audience.test40AtOnce')}</Button>
        <span style={{ flex: 1 }} />
        <Button
          sx={{ color: 'var(--rose)' }}
          onClick={() => {
            store.edit(t('audience.alertNameRemoved', { name: rule.name }), [], [rule.id]);
            onRemoved();
          }}
        >
          {t('audience.remove')}
        </Button>
      </div>
    </section>
  );
}

type Set = (what: string, part: Partial<AlertRuleRecord>) => void;

function PictureOfAlert({ rule, set }: { rule: AlertRuleRecord; set: Set }) {
  const { t } = useTranslation();
  const { say, showId } = useStudio();
  const [share, setShare] = useState<number | null>(null);
  const take = async (file: File) => {
    try {
      setShare(0);
      const { asset } = await bringIn(`/show/${showId}/assets`, file, setShare);
      const as = asset.mime.startsWith('video/')
        ? 'clip'
        : asset.mime.includes('lottie')
          ? 'lottie'
          : 'picture';
      set(t('audience.picture'), { picture: { assetId: asset.id, name: file.name.slice(0, 200), as } });
    } catch (error) {
      say(messageOf(error));
    } finally {
      setShare(null);
    }
  };
  return (
    <div style={{ display: 'flex', gap: 6, alignItems: 'center', fontSize: 13 }}>
      <span className="one-line" style={{ color: rule.picture ? undefined : 'var(--quiet)' }}>
        {rule.picture?.name ?? 'No picture'}
      </span>
      <Button component="label" disabled={share !== null}>
        {share === null ? t('audience.pictureOrAnimation') : `${Math.round(share * 100)}%`}
        <input
          type="file"
          hidden
          aria-label={t('audience.pictureOfTheAlert')}
          accept="image/png,image/apng,image/jpeg,image/webp,image/gif,image/avif,image/svg+xml,video/webm,video/mp4,.json,.lottie"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) void take(file);
            e.target.value = '';
          }}
        />
      </Button>
      {rule.picture && (
        <Button onClick={() => set(t('audience.picture'), { picture: null })}>{t('audience.none')}</Button>
      )}
    </div>
  );
}

function SpokenAlert({ rule, set }: { rule: AlertRuleRecord; set: Set }) {
  const { t } = useTranslation();
  const { data } = useStudio();
  const heard = recordsOf(useDocument(), 'channel').some((c) => c.source.type === 'speech');
  if (!data.canSpeak)
    return (
      <p style={{ color: 'var(--quiet)', fontSize: 12, margin: 0 }}>{t('audience.toHaveAlertsReadAloud')}</p>
    );
  return (
    <>
      <Toggle
        label={t('audience.textToSpeech')}
        on={rule.spoken}
        onChange={(spoken) => set(t('audience.readingAloud'), { spoken })}
      />
      {rule.spoken && !heard && (
        <p style={{ color: 'var(--larch)', fontSize: 12, margin: 0 }}>{t('audience.nobodyHearsItYetAdd')}</p>
      )}
    </>
  );
}

function SoundOfAlert({ rule, set }: { rule: AlertRuleRecord; set: Set }) {
  const { t } = useTranslation();
  const { say, showId } = useStudio();
  const [busy, setBusy] = useState(false);
  const value = rule.sound === null ? '' : rule.sound.type === 'file' ? 'file' : rule.sound.effect;
  const take = async (file: File) => {
    setBusy(true);
    try {
      const { asset } = await bringIn(`/show/${showId}/assets`, file, () => {});
      set(t('audience.sound'), { sound: { type: 'file', assetId: asset.id, name: file.name.slice(0, 200) } });
    } catch (error) {
      say(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <div style={{ display: 'flex', gap: 6 }}>
      <TextField
        select
        fullWidth
        label={t('audience.sound')}
        value={value}
        onChange={(e) => {
          const effect = SIMULATED_EFFECTS.find((name) => name === e.target.value);
          set(t('audience.sound'), { sound: effect ? { type: 'simulated', effect } : null });
        }}
      >
        <MenuItem value="">{t('audience.none')}</MenuItem>
        {SIMULATED_EFFECTS.map((effect) => (
          <MenuItem key={effect} value={effect}>
            {effect[0].toUpperCase() + effect.slice(1)}
          </MenuItem>
        ))}
        {rule.sound?.type === 'file' && <MenuItem value="file">{rule.sound.name}</MenuItem>}
      </TextField>
      <Button component="label" disabled={busy} sx={{ minWidth: 0, px: 1 }}>
        {busy ? '…' : t('audience.file')}
        <input
          type="file"
          hidden
          accept="audio/*"
          aria-label={t('audience.soundOfTheAlert')}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) void take(file);
            e.target.value = '';
          }}
        />
      </Button>
    </div>
  );
}
