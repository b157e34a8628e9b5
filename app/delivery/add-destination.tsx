import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { useBus } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { useServices, type OfferedConnector } from './use-services';

/** A destination by its address, or at a service that a connector describes. */
export function AddDestination({
  onPlain,
  onAdded,
}: {
  onPlain: () => void;
  /** A destination at a service was made. */
  onAdded: (id: string) => void;
}) {
  const { t } = useTranslation();
  const known = useBus((now) => now.services);
  const services = useServices(onAdded);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const choose = (what: () => void) => {
    setAnchor(null);
    what();
  };
  const removable = known.filter((service) => service.removable);
  return (
    <div className="add-destination">
      <Button startIcon={<AddRounded />} onClick={onPlain} className="add-plain">
        {t('services.plain')}
      </Button>
      <Button
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        disabled={services.busy}
        onClick={(e) => setAnchor(e.currentTarget)}
        className="add-plain"
      >
        {services.busy ? t('services.busy') : t('services.open')}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {known.map(({ id, name }) => (
          <MenuItem key={id} onClick={() => choose(() => void services.add(id))}>
            {name}
          </MenuItem>
        ))}
        {known.length > 0 && <Divider />}
        <MenuItem onClick={() => choose(() => file.current?.click())}>{t('services.import')}</MenuItem>
        {removable.map(({ id, name }) => (
          <MenuItem key={id} onClick={() => choose(() => void services.remove(id))}>
            {t('services.remove', { name })}
          </MenuItem>
        ))}
      </Menu>
      <input
        ref={file}
        type="file"
        hidden
        accept=".json,application/json"
        aria-label={t('services.file')}
        onChange={({ target }) => {
          const chosen = target.files?.[0];
          if (chosen) void services.offer(chosen);
          target.value = '';
        }}
      />
      {services.offered && (
        <Offered
          connector={services.offered}
          busy={services.busy}
          onTake={(connector) => void services.take(connector)}
          onLeave={services.leave}
        />
      )}
    </div>
  );
}

/** Whom a connector talks to, before it is taken. */
function Offered({
  connector,
  busy,
  onTake,
  onLeave,
}: {
  connector: OfferedConnector;
  busy: boolean;
  onTake: (connector: OfferedConnector) => void;
  onLeave: () => void;
}) {
  const { t } = useTranslation();
  const { name, hosts, replaces } = connector;
  return (
    <Dialog open onClose={onLeave} maxWidth="xs" fullWidth>
      <DialogTitle>{t('services.title', { name })}</DialogTitle>
      <DialogContent>
        <p className="hint">{t('services.talksTo')}</p>
        <ul className="service-hosts">
          {hosts.map((host) => (
            <li key={host}>{host}</li>
          ))}
        </ul>
        {replaces && <p className="hint">{t('services.replaces', { name })}</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onLeave}>{t('services.cancel')}</Button>
        <Button variant="contained" disabled={busy} onClick={() => onTake(connector)}>
          {t('services.take')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
