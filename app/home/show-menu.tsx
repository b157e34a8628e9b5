import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef } from 'react';
import { useTranslation } from '../words/words';
import type { HomeShow } from './home-show';

/** What can be done with a show that is not opened. */
export function ShowMenu({
  show,
  onAir,
  anchor,
  open,
  onClose,
  onGone,
  onOrder,
  onRename,
  onPlan,
  onFile,
}: {
  show: HomeShow;
  onAir: boolean;
  anchor: HTMLElement;
  open: boolean;
  onClose: () => void;
  /**
   * It is no longer seen, and has given the focus back.
   * @param chosen what was chosen, to be done now: a field that opened before would lose the focus again
   */
  onGone: (chosen: (() => void) | undefined) => void;
  onOrder: (fields: Record<string, string>) => void;
  onRename: () => void;
  onPlan: () => void;
  onFile: () => void;
}) {
  const { t } = useTranslation();
  const { id, name } = show;
  const gone = show.removedMs !== null;
  const chosen = useRef<() => void>(undefined);
  const choose = (act: () => void) => () => {
    chosen.current = act;
    onClose();
  };
  return (
    <Menu
      open={open}
      anchorEl={anchor}
      onClose={onClose}
      slotProps={{
        transition: {
          onExited: () => onGone(chosen.current),
        },
      }}
    >
      {gone
        ? [
            <MenuItem key="restore" onClick={choose(() => onOrder({ intent: 'restore', showId: id }))}>
              {t('home.restore')}
            </MenuItem>,
          ]
        : [
            <MenuItem key="rename" onClick={choose(onRename)}>
              {t('home.rename')}
            </MenuItem>,
            <MenuItem
              key="copy"
              onClick={choose(() =>
                onOrder({ intent: 'copy', showId: id, name: t('home.copyName', { name }).slice(0, 120) }),
              )}
            >
              {t('home.copy')}
            </MenuItem>,
            <MenuItem
              key="archive"
              onClick={choose(() =>
                onOrder({ intent: show.archivedMs === null ? 'archive' : 'unarchive', showId: id }),
              )}
            >
              {show.archivedMs === null ? t('home.archive') : t('home.unarchive')}
            </MenuItem>,
            <MenuItem key="plan" onClick={choose(onPlan)}>
              {t('home.plan')}
            </MenuItem>,
            <MenuItem key="file" onClick={choose(onFile)}>
              {t('home.toFile')}
            </MenuItem>,
            <MenuItem
              key="delete"
              disabled={onAir}
              onClick={choose(() => onOrder({ intent: 'delete', showId: id }))}
            >
              {t('home.remove')}
            </MenuItem>,
          ]}
    </Menu>
  );
}
