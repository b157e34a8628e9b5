import StopRounded from '@mui/icons-material/StopRounded';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { CHANNEL_COLOURS, PLAIN_CHANNEL, type AnyRecord, type EffectRecord } from '~/core/show/records';
import { FADER_MAX_DB } from '~/core/sound/decibel';
import { ChoiceRow } from '../studio/choice-row';
import { NameField } from '../studio/name-field';
import { NumberField } from '../studio/number-field';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { FileButton } from '../studio/file-button';
import { useTranslation } from '../words/words';

/** The buttons alone; they play at the press. */
export function EffectButtons({
  chosen,
  onChoose,
}: {
  chosen?: string | null;
  onChoose?: (id: string) => void;
}) {
  const { desk } = useStudio();
  const sound = useDesk((now) => now.sound);
  const effects = recordsOf(useDocument(), 'effect');
  return (
    <div className="effect-buttons">
      {effects.map((effect) => {
        const problem = sound.problems.get(effect.id);
        return (
          <button
            key={effect.id}
            type="button"
            className="effect-button"
            title={problem ?? undefined}
            onPointerDown={(e) => {
              if (e.button !== 0) return;
              desk.sound.playEffect(effect);
              onChoose?.(effect.id);
            }}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' && e.key !== ' ') return;
              e.preventDefault();
              if (!e.repeat) desk.sound.playEffect(effect);
              onChoose?.(effect.id);
            }}
            style={effect.id === chosen ? { boxShadow: 'inset 0 0 0 1.5px var(--glacier)' } : undefined}
          >
            <span
              aria-hidden
              className="channel-mark"
              style={{ background: `var(--${effect.colour === 'slate' ? 'quiet' : effect.colour})` }}
            />
            <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
              {problem ? `◆ ${effect.name}` : effect.name}
            </span>
            <span className="figure" style={{ color: 'var(--quiet)', fontSize: 11, fontWeight: 400 }}>
              {effect.key === '' ? '' : `Alt+${effect.key.toUpperCase()}`}
            </span>
          </button>
        );
      })}
    </div>
  );
}

/** The bank with what each button is set to. */
export function EffectsBank({ showId }: { showId: string }) {
  const { t } = useTranslation();
  const { desk, store } = useStudio();
  const sound = useDesk((now) => now.sound);
  const document = useDocument();
  const effects = recordsOf(document, 'effect');
  const [chosenId, setChosenId] = useState<string | null>(null);
  const chosen = effects.find((e) => e.id === chosenId) ?? effects[0];
  const hasChannel = recordsOf(document, 'channel').some((c) => c.source.type === 'effects');
  const add = (files: { assetId: string; name: string }[]) => {
    const records: AnyRecord[] = files.map(({ assetId, name }, i) => ({
      kind: 'effect',
      id: crypto.randomUUID(),
      showId,
      name,
      position: effects.length + i,
      source: { type: 'file', assetId },
      gainDb: 0,
      repeat: 'overlap',
      fadeSeconds: 0.3,
      colour: 'slate',
      key: effects.length + i < 9 ? String(effects.length + i + 1) : '',
    }));
    if (!hasChannel)
      records.push({
        kind: 'channel',
        id: crypto.randomUUID(),
        showId,
        name: 'Effects',
        position: recordsOf(document, 'channel').length,
        source: { type: 'effects' },
        ...PLAIN_CHANNEL,
        gainDb: -6,
      });
    store.edit(t('sound.addEffects'), records);
  };
  const set = (what: string, part: Partial<EffectRecord>) =>
    chosen && store.edit(t('sound.whatOfName', { what, name: chosen.name }), [{ ...chosen, ...part }]);
  return (
    <div className="effects-bank">
      <div style={{ minWidth: 0 }}>
        <div className="sound-bar">
          <FileButton label={t('sound.addEffects2')} onFiles={add} />
          <button type="button" className="chip tall" onClick={() => desk.sound.stopEffects(null, 0.3)}>
            <StopRounded sx={{ fontSize: 16, verticalAlign: 'middle' }} /> {t('sound.stopAll')}
          </button>
        </div>
        {effects.length === 0 && <p className="hint">{t('sound.noEffectYetBringIn')}</p>}
        <EffectButtons chosen={chosen?.id} onChoose={setChosenId} />
      </div>
      {chosen && (
        <div className="effect-fields">
          {sound.problems.has(chosen.id) && (
            <p className="hint" style={{ color: 'var(--rose)' }}>
              {sound.problems.get(chosen.id)}
            </p>
          )}
          <NameField
            name={chosen.name}
            label={t('sound.nameOfTheEffect')}
            onRename={(name) => set(t('sound.name'), { name })}
          />
          <NumberField
            label={t('sound.level')}
            unit="dB"
            digits={1}
            value={chosen.gainDb}
            min={-60}
            max={FADER_MAX_DB}
            onCommit={(gainDb) => set(t('sound.level'), { gainDb })}
          />
          <NumberField
            label={t('sound.fadeWhenStopped')}
            unit="s"
            digits={1}
            step={0.1}
            value={chosen.fadeSeconds}
            min={0}
            max={10}
            onCommit={(fadeSeconds) => set(t('sound.fade'), { fadeSeconds })}
          />
          <label className="hint" style={{ display: 'flex', alignItems: 'center', gap: 8, margin: 0 }}>
            {t('sound.keyAlt')}
            <input
              className="name-field figure"
              aria-label={t('sound.keyOfTheEffect')}
              value={chosen.key}
              maxLength={1}
              style={{ width: 36, textAlign: 'center' }}
              onChange={(e) => {
                const key = e.target.value.slice(-1).toLowerCase();
                if (key === '' || /[a-z0-9]/.test(key)) set(t('sound.key'), { key });
              }}
            />
          </label>
          <ChoiceRow
            label={t('sound.pressedAgain')}
            options={[
              { value: 'overlap', words: t('sound.onceMoreOverIt') },
              { value: 'restart', words: t('sound.fromTheStart') },
            ]}
            value={chosen.repeat}
            onChange={(repeat) => set(t('sound.repeat'), { repeat })}
          />
          <ChoiceRow
            label={t('sound.colour')}
            height={26}
            options={CHANNEL_COLOURS.map((value) => ({ value, words: value }))}
            value={chosen.colour}
            onChange={(colour) => set(t('sound.colour'), { colour })}
          />
          <div className="sound-bar">
            <button
              type="button"
              className="chip tall"
              onClick={() => desk.sound.stopEffects(chosen.id, chosen.fadeSeconds)}
            >
              {t('sound.stopIt')}
            </button>
            <button
              type="button"
              className="chip tall"
              onClick={() => store.edit(t('sound.removeName', { name: chosen.name }), [], [chosen.id])}
            >
              {t('sound.remove')}
            </button>
          </div>
        </div>
      )}
    </div>
  );
}
