import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useId, type ReactNode } from 'react';
import { useTranslation } from '../words/words';

/** As much as a large spreadsheet has. */
const MOST_LETTERS = 500_000;

/** Text from elsewhere becomes records; what is found in it is said before anything is added. */
export function PasteTextDialog({
  title,
  hint,
  field,
  text,
  onText,
  found,
  ready,
  onTake,
  onClose,
}: {
  title: string;
  hint: string;
  /** Name of the field. */
  field: string;
  text: string;
  onText: (text: string) => void;
  /** What is in the text, in words. */
  found: ReactNode;
  /** Whether anything is. */
  ready: boolean;
  onTake: () => void;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const titleId = useId();
  return (
    <Dialog open onClose={onClose} aria-labelledby={titleId} fullWidth maxWidth="sm">
      <DialogTitle id={titleId} className="dialog-title">
        {title}
      </DialogTitle>
      <DialogContent>
        <p className="hint">{hint}</p>
        <TextField
          autoFocus
          fullWidth
          multiline
          minRows={8}
          maxRows={14}
          label={field}
          value={text}
          onChange={(event) => onText(event.target.value.slice(0, MOST_LETTERS))}
          slotProps={{ htmlInput: { className: 'figure' } }}
        />
        <div aria-live="polite" className="hint">
          {found}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('plan.cancel')}</Button>
        <Button
          variant="contained"
          color="primary"
          disabled={!ready}
          onClick={() => {
            onTake();
            onClose();
          }}
        >
          {t('plan.pasteTake')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
