import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import TuneRounded from '@mui/icons-material/TuneRounded';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Switch from '@mui/material/Switch';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { useFetcher } from 'react-router';
import type { DestinationRecord } from '~/core/show/records';
import type { DestinationStatus } from '~/protocol/relay-orders';
import type { AccountState } from '~/server/accounts/platform-accounts';
import type { ServerFacts } from '../routes/preflight-facts';
import { keyInAddress } from '~/core/delivery/ingest-address';
import { useBus, useStudio } from '../studio/studio-context';
import { useBroadcastActions } from './broadcast-actions';
import { DestinationSettings } from './destination-settings';
import { useTranslation } from '../words/words';

const STATE_WORDS: Record<DestinationStatus['state'], string> = {
  connecting: 'connecting',
  waiting: 'waiting',
  live: 'live',
  stalled: 'stalled',
  refused: 'refused',
  unreachable: 'not reached',
  closed: 'closed',
};

/** One destination: address, key (which goes in and never comes out), switch, and how it does. */
export function DestinationRow({
  destination,
  status,
  keyFacts,
  account,
  refresh,
  open,
  onOpen,
}: {
  destination: DestinationRecord;
  status: DestinationStatus | null;
  keyFacts: ServerFacts['keys'][number] | null;
  account: AccountState;
  refresh: () => Promise<void>;
  /** Whether its settings are shown. */
  open: boolean;
  onOpen: (open: boolean) => void;
}) {
  const { t } = useTranslation();
  const { store, data, showId } = useStudio();
  const actions = useBroadcastActions();
  const hasKey = keyFacts !== null || data.destinationsWithKey.includes(destination.id);
  const [url, setUrl] = useState(destination.url);
  const [urlProblem, setUrlProblem] = useState('');
  useEffect(() => setUrl(destination.url), [destination.url]);
  const retry = useFetcher();
  const platform = useBus((now) => now.services).find(({ id }) => id === destination.connector);
  const keyForm = useFetcher<{ saved?: boolean; message?: string }>();
  const commitUrl = () => {
    if (url === destination.url) return setUrlProblem('');
    const split = keyInAddress(url);
    const address = split?.url ?? url.trim();
    const good = /^rtmps?:\/\/[^/\s@?#]+\/[^\s?#]+$/.test(address);
    setUrlProblem(good ? '' : 'Must look like rtmp://host/app, without the key');
    if (!good) return;
    setUrl(address);
    if (address !== destination.url)
      store.edit(t('delivery.addressOfName', { name: destination.name }), [{ ...destination, url: address }]);
    // What was pasted with its key: nobody sees the key again.
    if (split)
      void store
        .saved()
        .then(() =>
          keyForm.submit(
            { destinationId: destination.id, key: split.key },
            { method: 'post', action: `/show/${showId}/keys` },
          ),
        );
  };
  const taken = keyForm.data?.saved === true;
  useEffect(() => {
    if (taken) void refresh();
  }, [taken, refresh]);
  const good = status === null || status.state === 'live' || status.state === 'connecting';
  return (
    <div
      role="group"
      aria-label={destination.name}
      style={{ background: 'var(--raised)', borderRadius: 8, padding: '8px 12px', marginBottom: 8 }}
    >
      <div style={{ display: 'flex', alignItems: 'center', gap: 6 }}>
        <Switch
          size="small"
          checked={destination.enabled}
          onChange={() =>
            store.edit(
              destination.enabled
                ? t('delivery.switchOffName', { name: destination.name })
                : t('delivery.switchOnName', { name: destination.name }),
              [{ ...destination, enabled: !destination.enabled }],
            )
          }
          slotProps={{ input: { 'aria-label': `Send to ${destination.name}` } }}
        />
        <b style={{ fontSize: 14.5 }}>{destination.name}</b>
        <FrameChoice destination={destination} />
        <span style={{ flex: 1 }} />
        {platform?.accountUrl && <PageLink href={platform.accountUrl}>{t('delivery.account')}</PageLink>}
        {platform?.watchUrl && <PageLink href={platform.watchUrl}>{t('delivery.watch')}</PageLink>}
        <IconButton
          aria-label={t('delivery.settingsOfName', { name: destination.name })}
          aria-expanded={open}
          title={t('delivery.settingsOfName', { name: destination.name })}
          onClick={() => onOpen(!open)}
          sx={{ color: open ? 'var(--glacier)' : 'var(--quiet)' }}
        >
          <TuneRounded sx={{ fontSize: 18 }} />
        </IconButton>
        <IconButton
          aria-label={t('delivery.removeName', { name: destination.name })}
          title={t('delivery.removeName', { name: destination.name })}
          onClick={() =>
            store.edit(t('delivery.removeName', { name: destination.name }), [], [destination.id])
          }
          sx={{ color: 'var(--quiet)' }}
        >
          <DeleteOutlineRounded sx={{ fontSize: 18 }} />
        </IconButton>
      </div>
      {status && (
        <div style={{ fontSize: 13, margin: '2px 0 0 2px' }}>
          <span
            style={{ color: status.state === 'live' ? 'var(--moss)' : good ? 'var(--quiet)' : 'var(--rose)' }}
          >
            {good ? '' : '◆ '}
            {STATE_WORDS[status.state]}
          </span>
          {status.state === 'live' && (
            <span className="figure" style={{ color: 'var(--quiet)', marginLeft: 8, fontSize: 12.5 }}>
              {status.kbps} kbps · {status.framesDropped} dropped · {status.lagMs} ms
            </span>
          )}
          {status.delaySeconds > 0 && status.state === 'live' && (
            <Button
              onClick={() => void actions.cut(destination.id, Math.min(20, status.delaySeconds))}
              title={t('delivery.theCoverStandsInFor')}
              sx={{ ml: 1, color: 'var(--rose)' }}
            >
              Cut the last {Math.min(20, status.delaySeconds)} s
            </Button>
          )}
        </div>
      )}
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.1fr)',
          gap: 10,
          marginTop: 8,
        }}
      >
        <TextField
          label={t('delivery.serverUrl')}
          value={url}
          error={urlProblem !== ''}
          helperText={urlProblem || keyForm.data?.message || (taken ? t('delivery.theKeyAtItsEnd') : '')}
          onChange={(e) => setUrl(e.target.value)}
          onBlur={commitUrl}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') commitUrl();
          }}
        />
        <KeyForm destinationId={destination.id} name={destination.name} hasKey={hasKey} refresh={refresh} />
      </div>
      {destination.keyUse === 'fresh' && keyFacts && (keyFacts.used || keyFacts.ageHours > 12) && (
        <p style={{ color: 'var(--larch)', margin: '6px 0 0', fontSize: 12.5 }}>
          ▲ {keyFacts.used ? 'This key was used for another broadcast.' : 'This key is from yesterday.'} It
          wants a new one for every broadcast{platform ? ': see Account.' : '.'}
        </p>
      )}
      {open && <DestinationSettings destination={destination} account={account} refresh={refresh} />}
      {status && !good && (
        <p style={{ color: 'var(--rose)', margin: '8px 0 0', fontSize: 13, lineHeight: 1.4 }}>
          {destination.name} {status.message}
          {status.state === 'refused' && (
            <Button
              sx={{ ml: 1 }}
              onClick={() =>
                void retry.submit(
                  { intent: 'retry', destinationId: destination.id },
                  { method: 'post', action: `/show/${showId}/broadcast` },
                )
              }
            >
              {t('delivery.tryAgain')}
            </Button>
          )}
        </p>
      )}
    </div>
  );
}

/** A page of the service's own. */
function PageLink({ href, children }: { href: string; children: string }) {
  return (
    <Button component="a" href={href} target="_blank" rel="noopener" sx={{ minWidth: 0, px: 0.75 }}>
      {children}
    </Button>
  );
}

/** Which of the two pictures goes there. */
function FrameChoice({ destination }: { destination: DestinationRecord }) {
  const { t } = useTranslation();
  const { store } = useStudio();
  return (
    <select
      aria-label={t('delivery.frameForName', { name: destination.name })}
      value={destination.frame}
      onChange={(e) =>
        store.edit(t('delivery.frameForName', { name: destination.name }), [
          { ...destination, frame: e.target.value === 'tall' ? 'tall' : 'wide' },
        ])
      }
      style={{
        height: 28,
        border: 0,
        borderRadius: 6,
        padding: '0 4px',
        font: 'inherit',
        fontSize: 12.5,
        color: 'var(--text)',
        background: 'var(--ground)',
      }}
    >
      <option value="wide">{t('delivery.wide')}</option>
      <option value="tall">{t('delivery.tall')}</option>
    </select>
  );
}

function KeyForm({
  destinationId,
  name,
  hasKey,
  refresh,
}: {
  destinationId: string;
  name: string;
  hasKey: boolean;
  refresh: () => Promise<void>;
}) {
  const { t } = useTranslation();
  const { showId } = useStudio();
  const fetcher = useFetcher<{ saved?: boolean; message?: string }>();
  const [value, setValue] = useState('');
  const saved = hasKey || fetcher.data?.saved === true;
  const problem = fetcher.data?.message ?? '';
  useEffect(() => {
    if (!fetcher.data?.saved) return;
    setValue('');
    void refresh();
  }, [fetcher.data, refresh]);
  return (
    <fetcher.Form
      method="post"
      action={`/show/${showId}/keys`}
      style={{ display: 'flex', gap: 6, alignItems: 'flex-start' }}
    >
      <input type="hidden" name="destinationId" value={destinationId} />
      <TextField
        name="key"
        type="password"
        autoComplete="off"
        label={saved ? t('delivery.streamKeySaved') : t('delivery.streamKey')}
        placeholder={saved ? '••••••••' : ''}
        value={value}
        error={problem !== ''}
        helperText={problem}
        onChange={(e) => setValue(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
        slotProps={{ htmlInput: { 'aria-label': `Stream key of ${name}` }, inputLabel: { shrink: true } }}
      />
      <Button
        type="submit"
        disabled={value.trim() === '' || fetcher.state !== 'idle'}
        sx={{ height: 36, whiteSpace: 'nowrap' }}
      >
        {saved ? t('delivery.replace') : t('delivery.store')}
      </Button>
    </fetcher.Form>
  );
}
