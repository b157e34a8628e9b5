import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useCallback, useEffect, useState } from 'react';
import { findRecord, recordsOf } from '~/core/show/document';
import type { DestinationRecord } from '~/core/show/records';
import type { ServiceFacts } from '~/protocol/bus';
import type { AccountState } from '~/server/accounts/platform-accounts';
import { AccountLine } from '../delivery/account-line';
import { useServices } from '../delivery/use-services';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { post, useWhere, type WhereProps } from './use-where';
import { WhereSaving } from './where-saving';

/** A service by its connector: signed in to, and the key comes by itself. */
export function WhereService({ service, ...rest }: { service: ServiceFacts } & WhereProps) {
  const { t } = useTranslation();
  const { store, showId } = useStudio();
  const document = useDocument();
  const { busy, settingsOf } = useServices();
  const [before] = recordsOf(document, 'destination');
  if (before?.connector === service.id) return <AtService destination={before} service={service} {...rest} />;
  const use = async () => {
    const settings = await settingsOf(service.id);
    if (!settings) return;
    const show = findRecord(store.document(), 'show', showId)!;
    const title = before?.details.title || (show.fields.title ?? show.name);
    // Another one than before: the key of the one must never reach the other.
    store.edit(
      t('start.where.title'),
      [
        {
          kind: 'destination',
          id: crypto.randomUUID(),
          showId,
          position: before?.position ?? 0,
          ...settings,
          details: { ...settings.details, title },
        },
      ],
      before ? [before.id] : [],
    );
  };
  return (
    <div className="start-form">
      <p className="hint">{t('start.where.serviceAbout', { name: service.name })}</p>
      <Button className="raised" disabled={busy} onClick={() => void use()}>
        {busy ? t('services.busy') : t('start.where.use', { name: service.name })}
      </Button>
    </div>
  );
}

function AtService({
  destination,
  service,
  onKey,
  onMeasured,
}: { destination: DestinationRecord; service: ServiceFacts } & WhereProps) {
  const { t } = useTranslation();
  const { showId } = useStudio();
  const [title, setTitle] = useState(destination.details.title);
  const [account, setAccount] = useState<AccountState>({ state: 'none' });
  const where = useWhere({ onKey, onMeasured });
  const { id, name } = destination;
  const refresh = useCallback(async () => {
    const { account: now } = await post<{ account: AccountState }>(`/show/${showId}/accounts`, {
      intent: 'state',
      destinationId: id,
    });
    setAccount(now);
    if (now.state === 'signedIn') onKey();
  }, [showId, id, onKey]);
  useEffect(() => {
    // Not answered now, it is asked for again with the next press.
    refresh().catch(() => undefined);
  }, [refresh]);
  return (
    <form
      className="start-form"
      onSubmit={(event) => {
        event.preventDefault();
        void where.save({ ...destination, enabled: true, details: { ...destination.details, title } }, null);
      }}
    >
      {service.signsIn && <AccountLine destinationId={id} name={name} account={account} refresh={refresh} />}
      <TextField
        label={t('start.where.broadcastTitle')}
        value={title}
        onChange={(e) => setTitle(e.target.value.slice(0, 140))}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <WhereSaving testing={where.testing} problem={where.problem} />
    </form>
  );
}
