import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import { toRemove } from '~/core/delivery/make-room';
import type { RecordingFacts } from '~/server/vault/recording-repository';
import { NumberField } from '../studio/number-field';
import { Toggle } from '../studio/toggle';
import { length, titleOf } from './format';
import { useTranslation } from '../words/words';

/** Makes room by a rule; what it would delete is shown first. */
export function RoomDialog({
  recordings,
  onClose,
}: {
  recordings: readonly RecordingFacts[];
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const fetcher = useFetcher();
  const [days, setDays] = useState(30);
  const [keepClips, setKeepClips] = useState(true);
  const [onlyCopied, setOnlyCopied] = useState(false);
  const [now] = useState(() => Date.now());
  const list = toRemove(recordings, { days, keepClips, onlyCopied }, now);
  const bytes = list.reduce((sum, r) => sum + r.bytes, 0);
  const remove = () => {
    const form = new FormData();
    form.set('intent', 'deleteMany');
    for (const { id } of list) form.append('id', id);
    void fetcher.submit(form, { method: 'post' });
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>{t('vault.freeUpSpace')}</DialogTitle>
      <DialogContent>
        <div style={{ display: 'grid', gap: 8, marginBottom: 12 }}>
          <NumberField
            label={t('vault.olderThan')}
            unit="days"
            value={days}
            min={0}
            max={3650}
            onCommit={setDays}
          />
          <Toggle label={t('vault.keepClips')} on={keepClips} onChange={setKeepClips} />
          <Toggle label={t('vault.onlyRecordingsThatHaveAn')} on={onlyCopied} onChange={setOnlyCopied} />
        </div>
        {list.length === 0 ? (
          <p style={{ color: 'var(--quiet)' }}>{t('vault.nothingIsThatOld')}</p>
        ) : (
          <ul style={{ margin: 0, paddingLeft: 18, maxHeight: 260, overflow: 'auto', lineHeight: 1.5 }}>
            {list.map((r) => (
              <li key={r.id}>
                {titleOf(r)}{' '}
                <span className="figure" style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
                  {length(r.seconds)} · {(r.bytes / 1e6).toFixed(1)} MB
                </span>
              </li>
            ))}
          </ul>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          {t('vault.keepEverything')}
        </Button>
        <Button disabled={list.length === 0} onClick={remove} sx={{ color: 'var(--rose)' }}>
          {t('vault.deleteForGood', { count: list.length, mb: (bytes / 1e6).toFixed(0) })}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
