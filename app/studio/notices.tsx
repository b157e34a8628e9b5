import ReportProblemRounded from '@mui/icons-material/ReportProblemRounded';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useState } from 'react';
import { useDesk, useStore, useStudio } from './studio-context';
import { useTranslation } from '../words/words';

/** So long it lies over the place, where it may cover what the host needs next; then it waits behind its sign. */
const OPEN_MS = 9000;

/** What went wrong with the show or the desk, in every place, until it was read. Its sign hangs above the path's end. */
export function Notices() {
  const { t } = useTranslation();
  const { store } = useStudio();
  const notice = useStore((now) => now.notice);
  const fault = useDesk((now) => now.faults.at(-1) ?? null);
  const [read, setRead] = useState<string | null>(null);
  const [aside, setAside] = useState<string | null>(null);
  // The text that is pointed at or has the focus: one that goes meanwhile must not hold the next one.
  const [held, setHeld] = useState<string | null>(null);
  const text = notice ?? (fault === read ? null : fault);
  const open = text !== null && text !== aside;
  useEffect(() => {
    if (!open || held === text) return;
    const timer = setTimeout(() => setAside(text), OPEN_MS);
    return () => clearTimeout(timer);
  }, [open, held, text]);
  const dismiss = () => {
    setHeld(null);
    if (notice === null) setRead(fault);
    else store.dismissNotice();
  };
  return (
    <div style={{ position: 'absolute', left: -38, top: 2 }}>
      {text !== null && (
        <Tooltip title={text}>
          <IconButton
            aria-label={t('shell.noticeText', { text })}
            aria-expanded={open}
            onClick={() => setAside(open ? text : null)}
            sx={{ color: 'var(--rose)' }}
          >
            <ReportProblemRounded fontSize="small" />
          </IconButton>
        </Tooltip>
      )}
      {open && (
        <div
          role="alert"
          className="studio-notice"
          onMouseEnter={() => setHeld(text)}
          onMouseLeave={() => setHeld(null)}
          onFocus={() => setHeld(text)}
          onBlur={() => setHeld(null)}
        >
          <span>{text}</span>
          <Button onClick={dismiss}>{t('shell.dismiss')}</Button>
        </div>
      )}
    </div>
  );
}
