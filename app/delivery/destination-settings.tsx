import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import {
  ENCODERS,
  KEY_USES,
  LATENCIES,
  MAX_DELAY_SECONDS,
  type BroadcastDetails,
} from '~/core/delivery/settings';
import { messageOf } from '~/core/fault';
import type { DestinationRecord } from '~/core/show/records';
import type { AccountState } from '~/server/accounts/platform-accounts';
import { AccountLine } from './account-line';
import { bringIn } from '../stage/upload-file';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { SelectField } from '../studio/select-field';
import { useBus, useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';

const LATENCY_WORDS = { normal: 'Normal', low: 'Low', lowest: 'As low as it can be' } as const;
const ENCODER_WORDS = { desk: 'This desk', server: 'The server' } as const;
const KEY_WORDS = { lasting: 'One that lasts', fresh: 'A new one each time' } as const;

/** Everything a destination has of its own: server, caps, rate, delay, and what viewers read beside the picture. */
export function DestinationSettings({
  destination,
  account,
  refresh,
}: {
  destination: DestinationRecord;
  account: AccountState;
  refresh: () => Promise<void>;
}) {
  const { store } = useStudio();
  const { t } = useTranslation();
  const { connector } = destination;
  const service = useBus((now) => now.services).find(({ id }) => id === connector);
  const set = (change: Partial<DestinationRecord>) =>
    store.edit(t('delivery.settingsOfName', { name: destination.name }), [{ ...destination, ...change }]);
  const { details, servers } = destination;
  const detail = (change: Partial<BroadcastDetails>) => set({ details: { ...details, ...change } });
  return (
    <div
      style={{ display: 'grid', gridTemplateColumns: 'repeat(2, minmax(0, 1fr))', gap: 10, marginTop: 10 }}
    >
      {service?.signsIn && (
        <AccountLine
          destinationId={destination.id}
          name={destination.name}
          account={account}
          refresh={refresh}
        />
      )}
      {connector !== null && !service && (
        <p className="hint service-gone">{t('services.gone', { connector })}</p>
      )}
      <CommitField label={t('delivery.name')} value={destination.name} onCommit={(name) => set({ name })} />
      {servers.length > 0 ? (
        <TextField
          select
          label={t('delivery.server')}
          value={servers.some((s) => s.url === destination.url) ? destination.url : ''}
          onChange={(e) => set({ url: e.target.value })}
        >
          {servers.map((s) => (
            <MenuItem key={s.url} value={s.url}>
              {s.name}
            </MenuItem>
          ))}
        </TextField>
      ) : (
        <span />
      )}
      <NumberField
        label={t('delivery.maxBitrate0None')}
        unit="kbps"
        value={destination.capKbps ?? 0}
        min={0}
        max={50_000}
        step={500}
        onCommit={(kbps) => set({ capKbps: kbps === 0 ? null : Math.max(100, kbps) })}
      />
      <NumberField
        label={t('delivery.bitrateOverride0Plan')}
        unit="kbps"
        value={destination.ownKbps ?? 0}
        min={0}
        max={50_000}
        step={100}
        onCommit={(kbps) => set({ ownKbps: kbps === 0 ? null : Math.max(100, kbps) })}
      />
      <TextField
        select
        label={t('delivery.overrideIsEncodedBy')}
        value={destination.encodedBy}
        onChange={(e) => set({ encodedBy: e.target.value as DestinationRecord['encodedBy'] })}
      >
        {ENCODERS.map((by) => (
          <MenuItem key={by} value={by}>
            {ENCODER_WORDS[by]}
          </MenuItem>
        ))}
      </TextField>
      <NumberField
        label={t('delivery.delay')}
        unit="s"
        value={destination.delaySeconds}
        min={0}
        max={MAX_DELAY_SECONDS}
        step={5}
        onCommit={(delaySeconds) => set({ delaySeconds })}
      />
      <TextField
        select
        label={t('delivery.key')}
        value={destination.keyUse}
        onChange={(e) => set({ keyUse: e.target.value as DestinationRecord['keyUse'] })}
      >
        {KEY_USES.map((use) => (
          <MenuItem key={use} value={use}>
            {KEY_WORDS[use]}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label={t('delivery.latency')}
        value={details.latency}
        onChange={(e) => detail({ latency: e.target.value as BroadcastDetails['latency'] })}
      >
        {LATENCIES.map((latency) => (
          <MenuItem key={latency} value={latency}>
            {LATENCY_WORDS[latency]}
          </MenuItem>
        ))}
      </TextField>
      {service && service.visibility.length > 0 && (
        <SelectField
          label={t('services.visibility')}
          value={details.visibility || service.visibility[0]}
          options={service.visibility.map((value) => ({ value, words: value }))}
          onChange={(visibility) => detail({ visibility })}
        />
      )}
      <CommitField
        label={t('delivery.title')}
        max={200}
        allowEmpty
        value={details.title}
        onCommit={(title) => detail({ title })}
      />
      <CommitField
        label={t('delivery.category')}
        max={100}
        allowEmpty
        value={details.category}
        onCommit={(category) => detail({ category })}
      />
      <div style={{ gridColumn: '1 / -1' }}>
        <Toggle
          label={t('delivery.strictCbrPadded')}
          on={destination.padded}
          onChange={(padded) => set({ padded })}
        />
      </div>
      <Thumbnail
        assetId={details.thumbnailId}
        name={destination.name}
        onChange={(thumbnailId) => detail({ thumbnailId })}
      />
      <CommitField
        label={t('delivery.tagsWithCommas')}
        max={400}
        allowEmpty
        value={details.tags.join(', ')}
        onCommit={(text) =>
          detail({
            tags: text
              .split(',')
              .map((tag) => tag.trim().slice(0, 40))
              .filter(Boolean)
              .slice(0, 20),
          })
        }
      />
      <CommitField
        label={t('delivery.description')}
        max={5000}
        lines={3}
        allowEmpty
        value={details.description}
        onCommit={(description) => detail({ description })}
      />
    </div>
  );
}

/** The picture viewers see in a list before they come: set on the platform at going live, when signed in. */
function Thumbnail({
  assetId,
  name,
  onChange,
}: {
  assetId: string | null;
  name: string;
  onChange: (assetId: string | null) => void;
}) {
  const { t } = useTranslation();
  const { showId, say } = useStudio();
  const [share, setShare] = useState<number | null>(null);
  const take = async (file: File) => {
    try {
      setShare(0);
      const { asset } = await bringIn(`/show/${showId}/assets`, file, setShare);
      if (['image/png', 'image/jpeg', 'image/webp'].includes(asset.mime)) onChange(asset.id);
      else say(t('delivery.aThumbnailMustBeA'));
    } catch (error) {
      say(messageOf(error));
    } finally {
      setShare(null);
    }
  };
  return (
    <div style={{ gridColumn: '1 / -1', display: 'flex', gap: 8, alignItems: 'center', fontSize: 13 }}>
      {assetId ? (
        <img
          src={`/files/assets/${assetId}`}
          alt={t('delivery.thumbnailForName', { name })}
          style={{ height: 45, width: 80, objectFit: 'cover', borderRadius: 4 }}
        />
      ) : (
        <span style={{ color: 'var(--quiet)' }}>{t('delivery.noThumbnail')}</span>
      )}
      <Button component="label" disabled={share !== null} sx={{ bgcolor: 'var(--ground)' }}>
        {share === null ? t('delivery.picture') : `${Math.round(share * 100)}%`}
        <input
          type="file"
          hidden
          aria-label={t('delivery.pictureOfName', { name })}
          accept="image/png,image/jpeg,image/webp"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) void take(file);
            e.target.value = '';
          }}
        />
      </Button>
      {assetId && <Button onClick={() => onChange(null)}>{t('delivery.none')}</Button>}
    </div>
  );
}
