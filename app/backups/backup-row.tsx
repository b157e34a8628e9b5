import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { Backup } from '~/server/backup/backups';
import { momentOf } from '../home/format';
import { When } from '../home/when';
import { useTranslation } from '../words/words';

/** One point in time, and the way back to it: of one show or all, beside what there is. */
export function BackupRow({
  backup,
  busy,
  onRestore,
}: {
  backup: Backup;
  busy: boolean;
  /** Empty for all shows. */
  onRestore: (showId: string) => void;
}) {
  const { t } = useTranslation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { madeMs, reason, shows } = backup;
  const choose = (showId: string) => () => {
    setAnchor(null);
    onRestore(showId);
  };
  return (
    <li>
      <span>
        <b className="figure">
          <When words={() => momentOf(madeMs)} />
        </b>
        <span className="hint">
          {t(`backups.reason.${reason}`)} · {t('home.shows', { count: shows.length })}
        </span>
      </span>
      <Button
        disabled={busy || shows.length === 0}
        aria-haspopup="menu"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {t('backups.restore')}
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {shows.map(({ id, name }) => (
          <MenuItem key={id} onClick={choose(id)}>
            {name}
          </MenuItem>
        ))}
        {shows.length > 1 && <MenuItem onClick={choose('')}>{t('backups.all')}</MenuItem>}
      </Menu>
    </li>
  );
}
