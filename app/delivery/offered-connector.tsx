import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useTranslation } from '../words/words';
import type { OfferedConnector as Connector } from './use-services';

/** Whom a connector talks to, before it is taken. */
export function OfferedConnector({
  connector,
  busy,
  take,
  onTake,
  onLeave,
}: {
  connector: Connector;
  busy: boolean;
  /** What taking it comes to, as a button. */
  take: string;
  onTake: (connector: Connector) => void;
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
          {take}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
