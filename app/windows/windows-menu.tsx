import OpenInNewRounded from '@mui/icons-material/OpenInNewRounded';
import Badge from '@mui/material/Badge';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { lazy, Suspense, useState, useSyncExternalStore } from 'react';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { OwnWindowPortal } from './own-window';
import type { WindowKind } from './own-windows';

// Few open one on the first evening.
const CleanWindow = lazy(() => import('./clean-window').then((m) => ({ default: m.CleanWindow })));
const PeekWindow = lazy(() => import('./peek-window').then((m) => ({ default: m.PeekWindow })));
const WallWindow = lazy(() => import('./wall-window').then((m) => ({ default: m.WallWindow })));

const KINDS: readonly WindowKind[] = ['peek', 'wall', 'wide', 'tall'];

/** Opens windows of one's own, and holds what stands in them, wherever in the studio one goes. */
export function WindowsMenu() {
  const { windows, camera } = useStudio();
  const offered = useSyncExternalStore(camera.subscribe, camera.snapshot);
  const name = offered && offered.state !== 'failed' ? 'windows.cameraRuns' : 'windows.menu';
  const open = useSyncExternalStore(windows.subscribe, windows.snapshot);
  const { t } = useTranslation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title={t(name)}>
        <IconButton aria-label={t(name)} aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
          <Badge variant="dot" color="error" invisible={offered?.state !== 'running'}>
            <OpenInNewRounded fontSize="small" />
          </Badge>
        </IconButton>
      </Tooltip>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {KINDS.map((kind) => (
          <MenuItem
            key={kind}
            onClick={() => {
              // The window first: it takes the click.
              void windows.open(kind);
              setAnchor(null);
            }}
          >
            {t(`windows.open.${kind}`)}
          </MenuItem>
        ))}
      </Menu>
      {open.map((own) => (
        <OwnWindowPortal key={own.id} own={own} title={t(`windows.open.${own.kind}`)}>
          <Suspense fallback={null}>
            {own.kind === 'wall' ? (
              <WallWindow opened={own.window} />
            ) : own.kind === 'peek' ? (
              <PeekWindow opened={own.window} />
            ) : (
              <CleanWindow frame={own.kind} opened={own.window} />
            )}
          </Suspense>
        </OwnWindowPortal>
      ))}
    </>
  );
}
