import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { readRundown } from '~/core/rundown/rundown-csv';
import { segmentsOf } from '~/core/rundown/rundown';
import type { RundownRecord } from '~/core/show/rundown-records';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

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
  const take = () => {
    store.edit('Paste a table', found.segments);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="paste-table" fullWidth maxWidth="sm">
      <DialogTitle id="paste-table" className="dialog-title">
        {t('plan.pasteTitle')}
      </DialogTitle>
      <DialogContent>
        <p className="hint">{t('plan.pasteHint')}</p>
        <TextField
          autoFocus
          multiline
          minRows={8}
          maxRows={14}
          label={t('plan.pasteField')}
          value={text}
          onChange={(event) => setText(event.target.value.slice(0, 500_000))}
          slotProps={{ htmlInput: { className: 'figure' } }}
        />
        <div aria-live="polite" className="hint">
          {text.trim() !== '' && t('plan.pasteFound', { count: found.segments.length })}
          {found.problems.slice(0, 8).map(({ row, type, value }) => (
            <div key={`${row}/${type}`} className="trouble">
              {t(`plan.pasteProblems.${type}`, { row, value })}
            </div>
          ))}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('plan.cancel')}</Button>
        <Button variant="contained" color="primary" disabled={found.segments.length === 0} onClick={take}>
          {t('plan.pasteTake')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
