import { useMemo, useState } from 'react';
import { readRundown } from '~/core/rundown/rundown-csv';
import { segmentsOf } from '~/core/rundown/rundown';
import type { RundownRecord } from '~/core/show/rundown-records';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { PasteTextDialog } from './paste-text-dialog';

/** A table from a spreadsheet becomes segments; what is not understood is said before anything is added. */
export function PasteDialog({ rundown, onClose }: { rundown: RundownRecord; onClose: () => void }) {
  const { store, showId } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const [text, setText] = useState('');
  const found = useMemo(() => {
    const position = (segmentsOf(document, rundown.id).at(-1)?.position ?? -1) + 1;
    return readRundown(text, document, { showId, rundownId: rundown.id, position }, () =>
      crypto.randomUUID(),
    );
  }, [text, document, rundown.id, showId]);
  return (
    <PasteTextDialog
      title={t('plan.pasteTitle')}
      hint={t('plan.pasteHint')}
      field={t('plan.pasteField')}
      {...{ text, onClose }}
      onText={setText}
      found={
        <>
          {text.trim() !== '' && t('plan.pasteFound', { count: found.segments.length })}
          {found.problems.slice(0, 8).map(({ row, type, value }) => (
            <div key={`${row}/${type}`} className="trouble">
              {t(`plan.pasteProblems.${type}`, { row, value })}
            </div>
          ))}
        </>
      }
      ready={found.segments.length > 0}
      onTake={() => store.edit('Paste a table', found.segments)}
    />
  );
}
