import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useTranslation } from '../words/words';

const LEAST_LETTERS = 8;

/** Makes one file of a show; the browser saves it as it comes. */
export function ArchiveDialog({
  showId,
  name,
  onClose,
}: {
  showId: string;
  name: string;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const [keys, setKeys] = useState(false);
  const [passphrase, setPassphrase] = useState('');
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="archive-title">
      {/* A form of the browser's own, since its answer is a file. */}
      <form method="post" action={`/show/${showId}/archive`} onSubmit={() => setTimeout(onClose)}>
        <DialogTitle id="archive-title">{t('archive.outTitle', { name })}</DialogTitle>
        <DialogContent>
          <p className="hint">{t('archive.outHint')}</p>
          <FormControlLabel
            control={<Checkbox checked={keys} onChange={(e) => setKeys(e.target.checked)} />}
            label={t('archive.withKeys')}
          />
          {keys && (
            <TextField
              name="passphrase"
              type="password"
              autoComplete="new-password"
              label={t('archive.passphrase')}
              value={passphrase}
              onChange={(e) => setPassphrase(e.target.value)}
              sx={{ mt: 1 }}
            />
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{t('archive.cancel')}</Button>
          <Button type="submit" variant="contained" disabled={keys && passphrase.length < LEAST_LETTERS}>
            {t('archive.make')}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
