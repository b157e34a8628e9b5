import Dialog from '@mui/material/Dialog';
import InputBase from '@mui/material/InputBase';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { findings } from '~/core/find/finder';
import { useStudio } from '../studio/studio-context';
import { en } from '../words/en';
import { useTranslation } from '../words/words';
import { paletteEntries, type Entry } from './entries';

const MOST = 12;

/** Finds scenes, layers, inputs, channels, settings and commands by what people call them; arrows choose, Enter goes there. */
export function Palette({ onClose }: { onClose: () => void }) {
  const { t } = useTranslation();
  const studio = useStudio();
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const all = useMemo(() => paletteEntries(studio, en.palette, navigate), [studio, navigate]);
  const found = findings(all, typed, MOST);
  const run = (entry: Entry | undefined) => {
    if (!entry) return;
    onClose();
    entry.run();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="sm"
      aria-label={t('palette.title')}
      slotProps={{ paper: { className: 'palette' } }}
    >
      <InputBase
        autoFocus
        fullWidth
        placeholder={t('palette.hint')}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape') return;
          event.stopPropagation();
          const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
          if (by) setAt((at + by + Math.max(1, found.length)) % Math.max(1, found.length));
          else if (event.key === 'Enter') run(found[at]);
          else return;
          event.preventDefault();
        }}
        slotProps={{
          input: {
            role: 'combobox',
            'aria-label': t('palette.title'),
            'aria-expanded': true,
            'aria-controls': 'palette-list',
            'aria-activedescendant': found[at] && `palette-${found[at].id}`,
          },
        }}
      />
      <ul id="palette-list" role="listbox" aria-label={t('palette.title')}>
        {found.map((entry, i) => (
          <li
            key={entry.id}
            id={`palette-${entry.id}`}
            role="option"
            aria-selected={i === at}
            onPointerMove={() => setAt(i)}
            onClick={() => run(entry)}
          >
            <b>{entry.name}</b>
            <span>{t(`palette.kinds.${entry.kind}`)}</span>
          </li>
        ))}
      </ul>
      <p role="status" className="hint">
        {found.length === 0 ? t('palette.none', { typed }) : ''}
      </p>
    </Dialog>
  );
}
