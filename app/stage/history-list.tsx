import HistoryRounded from '@mui/icons-material/HistoryRounded';
import RedoRounded from '@mui/icons-material/RedoRounded';
import UndoRounded from '@mui/icons-material/UndoRounded';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useEffect, useRef, useState } from 'react';
import { useDocument, useStore, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** Undo, redo, and the list of steps to jump in. */
export function HistoryButtons() {
  const { t } = useTranslation();
  const { store } = useStudio();
  const undoName = useStore((now) => now.undoName);
  const redoName = useStore((now) => now.redoName);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const icon = { minWidth: 0, px: 1 };
  return (
    <div style={{ display: 'flex', gap: 5 }}>
      <Button
        aria-label={t('layout.undo')}
        disabled={!undoName}
        onClick={() => store.undo()}
        title={undoName ? t('layout.undoUndonameCtrlZ', { undoName }) : t('layout.nothingToUndo')}
        sx={icon}
      >
        <UndoRounded sx={{ fontSize: 18 }} />
      </Button>
      <Button
        aria-label={t('layout.redo')}
        disabled={!redoName}
        onClick={() => store.redo()}
        title={redoName ? t('layout.redoRedonameCtrlShiftZ', { redoName }) : t('layout.nothingToRedo')}
        sx={icon}
      >
        <RedoRounded sx={{ fontSize: 18 }} />
      </Button>
      <Button
        aria-label={t('layout.history')}
        title={t('layout.history')}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={icon}
      >
        <HistoryRounded sx={{ fontSize: 18 }} />
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{
          paper: { sx: { width: 280, maxHeight: 420, p: 1 }, role: 'dialog', 'aria-label': 'History' },
        }}
      >
        <Steps />
      </Popover>
    </div>
  );
}

function Steps() {
  const { t } = useTranslation();
  const { store } = useStudio();
  // The steps change with the document.
  useDocument();
  const { names, done } = store.steps();
  const now = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    // In braces: newer browsers answer with a promise, which is no cleanup.
    now.current?.scrollIntoView({ block: 'nearest' });
  }, [done]);
  const row = (count: number, words: string) => (
    <button
      key={count}
      type="button"
      ref={count === done ? now : undefined}
      aria-current={count === done ? 'step' : undefined}
      onClick={() => store.jump(count)}
      style={{
        display: 'block',
        width: '100%',
        minHeight: 28,
        padding: '2px 10px',
        textAlign: 'left',
        border: 0,
        borderRadius: 5,
        font: 'inherit',
        fontSize: 13,
        cursor: 'pointer',
        color: count > done ? 'var(--quiet)' : 'var(--text)',
        background: count === done ? 'color-mix(in srgb, var(--glacier) 18%, var(--raised))' : 'transparent',
      }}
    >
      {words}
      {count > done && <span style={{ fontSize: 11.5 }}> {t('layout.undone')}</span>}
    </button>
  );
  return (
    <div role="list" aria-label={t('layout.history')}>
      {row(0, 'As it was loaded')}
      {names.map((name, i) => row(i + 1, name))}
    </div>
  );
}
