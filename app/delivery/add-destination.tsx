import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { HiddenFile } from '../studio/hidden-file';
import { useBus, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { OfferedConnector } from './offered-connector';
import { useServices } from './use-services';

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
  const { store, showId } = useStudio();
  const services = useServices();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const choose = (what: () => void) => {
    setAnchor(null);
    what();
  };
  const add = async (id: string) => {
    const settings = await services.settingsOf(id);
    if (!settings) return;
    const destinations = recordsOf(store.document(), 'destination');
    const destinationId = crypto.randomUUID();
    const position = (destinations.at(-1)?.position ?? -1) + 1;
    store.edit(t('services.added', { name: settings.name }), [
      { kind: 'destination', id: destinationId, showId, position, ...settings },
    ]);
    onAdded(destinationId);
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
          <MenuItem key={id} onClick={() => choose(() => void add(id))}>
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
      <HiddenFile
        of={file}
        label={t('services.file')}
        accept=".json,application/json"
        onFiles={([chosen]) => void services.offer(chosen)}
      />
      {services.offered && (
        <OfferedConnector
          connector={services.offered}
          busy={services.busy}
          take={t('services.take')}
          onTake={(connector) =>
            void services.take(connector).then((taken) => (taken ? add(connector.id) : undefined))
          }
          onLeave={services.leave}
        />
      )}
    </div>
  );
}
