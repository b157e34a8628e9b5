import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useTranslation } from '../words/words';

/** As a field of a date and a time has it, in the zone of this computer. */
function fieldOf(atMs: number): string {
  const minutes = new Date(atMs).getTimezoneOffset();
  return new Date(atMs - minutes * 60_000).toISOString().slice(0, 16);
}

/** When a show is on next. */
export function PlanDialog({
  name,
  nextMs,
  onDone,
}: {
  name: string;
  nextMs: number | null;
  /** @param nextMs undefined: as it was */
  onDone: (nextMs?: number | null) => void;
}) {
  const { t } = useTranslation();
  const [text, setText] = useState(nextMs === null ? '' : fieldOf(nextMs));
  const chosen = Date.parse(text);
  return (
    <Dialog open onClose={() => onDone()} aria-labelledby="plan-title">
      <DialogTitle id="plan-title">{t('home.planTitle', { name })}</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          type="datetime-local"
          label={t('home.planWhen')}
          value={text}
          onChange={(e) => setText(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ mt: 1 }}
        />
      </DialogContent>
      <DialogActions>
        <Button disabled={nextMs === null} onClick={() => onDone(null)}>
          {t('home.planNone')}
        </Button>
        <Button onClick={() => onDone()}>{t('archive.cancel')}</Button>
        <Button variant="contained" disabled={Number.isNaN(chosen)} onClick={() => onDone(chosen)}>
          {t('home.planSet')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
