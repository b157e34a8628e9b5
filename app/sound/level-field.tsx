import { withMinus } from '~/core/format/numbers';
import { useState } from 'react';
import { FADER_MAX_DB, FADER_MIN_DB } from '~/core/sound/decibel';
import { useTranslation } from '../words/words';

/** A level in dB to type; the bottom is silence. */
export function LevelField({
  name,
  gainDb,
  onCommit,
}: {
  name: string;
  gainDb: number;
  onCommit: (db: number) => void;
}) {
  const { t } = useTranslation();
  const shown = gainDb <= FADER_MIN_DB ? '−∞' : withMinus(gainDb.toFixed(1));
  const [text, setText] = useState<string | null>(null);
  const commit = () => {
    const raw = (text ?? '').replace('−', '-').replace(',', '.');
    setText(null);
    const db = /∞|inf/i.test(raw) ? FADER_MIN_DB : Number(raw);
    if (text !== null && raw.trim() !== '' && Number.isFinite(db) && db !== gainDb)
      onCommit(Math.min(FADER_MAX_DB, Math.max(FADER_MIN_DB, db)));
  };
  return (
    <label className="figure level-field">
      <input
        aria-label={t('sound.levelOfNameInDecibels', { name })}
        value={text ?? shown}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setText(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key === 'Escape') setText(null);
        }}
      />
      {t('sound.db')}
    </label>
  );
}
