import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { MOST_TITLES, readTitles } from '~/core/rundown/title-list';
import { useRecords, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** A list of names and roles becomes titles. */
export function TitlesDialog({ onClose }: { onClose: () => void }) {
  const { store, showId } = useStudio();
  const { t } = useTranslation();
  const titles = useRecords('title');
  const [text, setText] = useState('');
  const position = (titles.at(-1)?.position ?? -1) + 1;
  const found = readTitles(text, { showId, position }, () => crypto.randomUUID());
  return (
    <Dialog open onClose={onClose} aria-labelledby="paste-titles" fullWidth maxWidth="sm">
      <DialogTitle id="paste-titles" className="dialog-title">
        {t('plan.pasteTitles')}
      </DialogTitle>
      <DialogContent>
        <p className="hint">{t('plan.pasteTitlesHint')}</p>
        <TextField
          autoFocus
          fullWidth
          multiline
          minRows={6}
          maxRows={14}
          label={t('plan.pasteTitlesField')}
          value={text}
          onChange={(event) => setText(event.target.value.slice(0, 200_000))}
        />
        <p aria-live="polite" className="hint">
          {text.trim() !== '' && t('plan.pasteTitlesFound', { count: found.titles.length })}{' '}
          {found.tooMany && t('plan.pasteTitlesTooMany', { count: MOST_TITLES })}
        </p>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('plan.cancel')}</Button>
        <Button
          variant="contained"
          color="primary"
          disabled={found.titles.length === 0}
          onClick={() => {
            store.edit('Add titles', found.titles);
            onClose();
          }}
        >
          {t('plan.pasteTake')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
