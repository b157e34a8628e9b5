import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import TextField from '@mui/material/TextField';
import { useRef, useState } from 'react';
import { useRevalidator } from 'react-router';
import { messageOf } from '~/core/fault';
import { sendFile } from '../studio/send-file';
import { HiddenFile } from '../studio/hidden-file';
import { useTranslation } from '../words/words';

interface Answer {
  showId: string;
  lockedKeys: boolean;
  missing: string[];
}

/** Brings a show in from a file, with progress; it can be cancelled, and nothing is left of it then. */
export function BringIn() {
  const { t } = useTranslation();
  const { revalidate } = useRevalidator();
  const [open, setOpen] = useState(false);
  const [passphrase, setPassphrase] = useState('');
  const [share, setShare] = useState<number | null>(null);
  const [words, setWords] = useState<{ bad: boolean; lines: string[] } | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const stop = useRef<AbortController | null>(null);
  const list = new Intl.ListFormat('en', { type: 'unit', style: 'short' });
  const send = async (file: File) => {
    stop.current = new AbortController();
    setWords(null);
    setShare(0);
    try {
      const { lockedKeys, missing } = await sendFile<Answer>(
        '/archive',
        file,
        { 'x-passphrase': passphrase },
        setShare,
        stop.current.signal,
      );
      setWords({
        bad: false,
        lines: [
          t('archive.done', { file: file.name }),
          ...(lockedKeys ? [t('archive.lockedKeys')] : []),
          ...(missing.length > 0 ? [t('archive.missing', { files: list.format(missing) })] : []),
        ],
      });
      setPassphrase('');
      await revalidate();
    } catch (error) {
      setWords({ bad: true, lines: [messageOf(error)] });
    } finally {
      setShare(null);
    }
  };
  const close = () => {
    stop.current?.abort();
    setOpen(false);
    setWords(null);
  };
  return (
    <>
      <Button onClick={() => setOpen(true)}>{t('home.bringIn')}</Button>
      <Dialog open={open} onClose={close} maxWidth="xs" fullWidth aria-labelledby="bring-in-title">
        <DialogTitle id="bring-in-title">{t('archive.inTitle')}</DialogTitle>
        <DialogContent>
          <p className="hint">{t('archive.inHint')}</p>
          <TextField
            type="password"
            autoComplete="off"
            label={t('archive.inPassphrase')}
            value={passphrase}
            onChange={(e) => setPassphrase(e.target.value)}
            sx={{ mt: 1 }}
          />
          <div role="status" style={{ minHeight: 44, marginTop: 12 }}>
            {share !== null && (
              <>
                <LinearProgress
                  variant={share < 1 ? 'determinate' : 'indeterminate'}
                  value={share * 100}
                  aria-label={t('archive.inTitle')}
                />
                <p className="hint">
                  {share < 1
                    ? t('archive.bringing', { percent: Math.round(share * 100) })
                    : t('archive.reading')}
                </p>
              </>
            )}
            {words?.lines.map((line) => (
              <p key={line} style={{ margin: '0 0 4px', color: words.bad ? 'var(--rose)' : 'var(--text)' }}>
                {words.bad ? '◆ ' : ''}
                {line}
              </p>
            ))}
          </div>
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>{t(share === null ? 'archive.close' : 'archive.cancel')}</Button>
          <Button variant="contained" disabled={share !== null} onClick={() => chooser.current?.click()}>
            {t('archive.choose')}
          </Button>
        </DialogActions>
        <HiddenFile
          of={chooser}
          label={t('archive.choose')}
          accept=".zip,application/zip"
          onFiles={([file]) => void send(file)}
        />
      </Dialog>
    </>
  );
}
