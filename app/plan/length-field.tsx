import { lengthText } from '~/core/rundown/length-text';
import { readLength } from '~/core/rundown/rundown-csv';
import { CommitField } from '../studio/commit-field';
import { useTranslation } from '../words/words';

/** A length as people write it: 5:00, 1:10:00, 90 s. */
export function LengthField({ seconds, onCommit }: { seconds: number; onCommit: (seconds: number) => void }) {
  const { t } = useTranslation();
  return (
    <CommitField
      label={t('plan.length')}
      value={lengthText(seconds)}
      problem={(text) => (readLength(text) === null ? t('plan.lengthWrong') : null)}
      onCommit={(text) => onCommit(readLength(text) ?? seconds)}
    />
  );
}
