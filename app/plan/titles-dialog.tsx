import { useMemo, useState } from 'react';
import { MOST_TITLES, readTitles } from '~/core/rundown/title-list';
import { useRecords, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { PasteTextDialog } from './paste-text-dialog';

/** A list of names and roles becomes titles. */
export function TitlesDialog({ onClose }: { onClose: () => void }) {
  const { store, showId } = useStudio();
  const { t } = useTranslation();
  const titles = useRecords('title');
  const [text, setText] = useState('');
  const found = useMemo(() => {
    const position = (titles.at(-1)?.position ?? -1) + 1;
    return readTitles(text, { showId, position }, () => crypto.randomUUID());
  }, [text, titles, showId]);
  return (
    <PasteTextDialog
      title={t('plan.pasteTitles')}
      hint={t('plan.pasteTitlesHint')}
      field={t('plan.pasteTitlesField')}
      {...{ text, onClose }}
      onText={setText}
      found={
        <>
          {text.trim() !== '' && t('plan.pasteTitlesFound', { count: found.titles.length })}{' '}
          {found.tooMany && t('plan.pasteTitlesTooMany', { count: MOST_TITLES })}
        </>
      }
      ready={found.titles.length > 0}
      onTake={() => store.edit('Add titles', found.titles)}
    />
  );
}
