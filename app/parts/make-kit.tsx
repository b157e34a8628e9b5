import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { listParts } from '~/core/parts/parts';
import { useStage } from '../stage/stage-context';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { PartList } from './part-list';

/** Makes a file of chosen parts of this show, for other shows and other people. */
export function MakeKit({ onBack, onClose }: { onBack: () => void; onClose: () => void }) {
  const { t } = useTranslation();
  const { showId } = useStudio();
  const { base } = useStage();
  const list = useMemo(() => listParts(base()), [base]);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [name, setName] = useState('');
  return (
    // A form of the browser's own, since its answer is a file.
    <form method="post" action={`/show/${showId}/kit`} onSubmit={() => setTimeout(onClose)}>
      <input type="hidden" name="ids" value={[...chosen].join(',')} />
      <DialogContent className="parts">
        <p className="computer-hint">{t('parts.makeHint')}</p>
        <div className="parts-fields">
          <TextField
            required
            autoFocus
            name="name"
            label={t('parts.kitName')}
            value={name}
            onChange={(e) => setName(e.target.value.slice(0, 120))}
          />
          <TextField
            name="about"
            multiline
            label={t('parts.kitAbout')}
            helperText={t('parts.kitAboutHint')}
          />
        </div>
        <PartList parts={list} chosen={chosen} onChange={setChosen} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onBack}>{t('parts.back')}</Button>
        <span className="parts-room" />
        <Button onClick={onClose}>{t('parts.cancel')}</Button>
        <Button type="submit" variant="contained" disabled={chosen.size === 0 || name.trim() === ''}>
          {t('parts.makeFile')}
        </Button>
      </DialogActions>
    </form>
  );
}
