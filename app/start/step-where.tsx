import Button from '@mui/material/Button';
import { useRef, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { OfferedConnector } from '../delivery/offered-connector';
import { useServices } from '../delivery/use-services';
import { HiddenFile } from '../studio/hidden-file';
import { useBus, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { ChoiceList } from './choice-list';
import type { WhereProps } from './use-where';
import { WhereAddress } from './where-address';
import { WhereService } from './where-service';

/** Whatever is chosen beside these is the id of a service. */
const WAYS = ['send', 'file', 'record'] as const;

/** To a service one signs in to, to an address with a key, or only into a recording. */
export function StepWhere(props: WhereProps) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const services = useBus((now) => now.services);
  const document = useDocument();
  const [before] = recordsOf(document, 'destination');
  const [wanted, setWay] = useState<string>(
    before && !before.enabled ? 'record' : (before?.connector ?? 'send'),
  );
  const choose = (id: string) => {
    setWay(id);
    const sends = id !== 'record';
    if (before && before.enabled !== sends)
      store.edit(t('start.where.title'), [{ ...before, enabled: sends }]);
  };
  // A service that this computer does not know is an address with a key.
  const known = WAYS.some((one) => one === wanted) || services.some(({ id }) => id === wanted);
  const way = known ? wanted : 'send';
  const service = services.find(({ id }) => id === way);
  const [send, file, record] = WAYS;
  return (
    <>
      <h2>{t('start.where.title')}</h2>
      <div className="start-two">
        <ChoiceList
          label={t('start.where.title')}
          choices={[
            ...services.map(({ id, name }) => ({ id, title: name, hint: t('start.where.serviceHint') })),
            { id: send, title: t('start.where.send'), hint: t('start.where.sendHint') },
            { id: file, title: t('start.where.file'), hint: t('start.where.fileHint') },
            { id: record, title: t('start.where.record'), hint: t('start.where.recordHint') },
          ]}
          chosen={way}
          onChoose={choose}
        />
        {service && <WhereService key={service.id} service={service} {...props} />}
        {way === send && <WhereAddress {...props} />}
        {way === file && <ByFile onTaken={setWay} />}
      </div>
    </>
  );
}

/** A connector is brought in, and its service chosen. */
function ByFile({ onTaken }: { onTaken: (serviceId: string) => void }) {
  const { t } = useTranslation();
  const { busy, offered, offer, leave, take } = useServices();
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <div className="start-form">
      <Button className="raised" disabled={busy} onClick={() => chooser.current?.click()}>
        {t('services.import')}
      </Button>
      <HiddenFile
        of={chooser}
        label={t('services.file')}
        accept=".json,application/json"
        onFiles={([chosen]) => void offer(chosen)}
      />
      {offered && (
        <OfferedConnector
          connector={offered}
          busy={busy}
          take={t('start.where.import')}
          onTake={(connector) => void take(connector).then((taken) => taken && onTaken(connector.id))}
          onLeave={leave}
        />
      )}
    </div>
  );
}
