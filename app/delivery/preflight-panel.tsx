import Button from '@mui/material/Button';
import { useNavigate } from 'react-router';
import { toMend, type Check, type Fix } from '~/core/delivery/preflight';
import { enabledDestinations } from '~/core/delivery/live-plan';
import { findRecord } from '~/core/show/document';
import { useBroadcastControl } from '../studio/broadcast-control';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const MARK: Record<Check['state'], { sign: string; colour: string; word: string }> = {
  fine: { sign: '●', colour: 'var(--moss)', word: 'fine' },
  warn: { sign: '▲', colour: 'var(--larch)', word: 'worth a look' },
  stop: { sign: '◆', colour: 'var(--rose)', word: 'To fix' },
  unknown: { sign: '○', colour: 'var(--quiet)', word: 'not known' },
};

/** The checklist that checks itself, what mends each point, and going live. */
export function PreflightPanel({
  checks,
  onFix,
}: {
  checks: readonly Check[];
  /** Fixes that this place makes itself. */
  onFix: (fix: Fix, recordId: string | null) => void;
}) {
  const { t } = useTranslation();
  const { store, desk, showId, data } = useStudio();
  const broadcast = useBus((now) => now.broadcast);
  const live = useDesk((now) => now.live);
  const navigate = useNavigate();
  const control = useBroadcastControl();
  const mend = toMend(checks);
  const look = checks.filter((c) => c.state === 'warn').length;
  const run = (fix: Fix, recordId: string | null) => {
    const go = (place: string) => void navigate(`/show/${showId}/${place}`);
    switch (fix) {
      case 'startSound':
        void desk.sound.resume();
        break;
      case 'unmute': {
        const channel = findRecord(store.document(), 'channel', recordId);
        if (channel)
          store.edit(t('delivery.unmuteName', { name: channel.name }), [{ ...channel, muted: false }]);
        break;
      }
      case 'keepReady': {
        const input = findRecord(store.document(), 'input', recordId);
        if (input)
          store.edit(t('delivery.keepNameReady', { name: input.name }), [{ ...input, keepReady: true }]);
        break;
      }
      case 'openStage':
        go('stage');
        break;
      case 'openSound':
      case 'fixEcho':
        go('sound');
        break;
      case 'openVault':
        go('vault');
        break;
      default:
        onFix(fix, recordId);
    }
  };
  const off = broadcast.state === 'off';
  // Destinations that would fail are left for later, so that the others can begin.
  const enabled = enabledDestinations(useDocument());
  const broken = enabled.filter((d) =>
    checks.some((c) => c.id === `destination:${d.id}` && c.state === 'stop'),
  );
  const ready = enabled.length - broken.length;
  const later = ready > 0 && broken.length > 0;
  const go = () => {
    if (later)
      store.edit(
        `Leave ${broken.map((d) => d.name).join(' and ')} for later`,
        broken.map((d) => ({ ...d, enabled: false })),
      );
    // The edit is saved before the broadcast is started: both go the same way, in order.
    void store.saved().then(control.start);
  };
  return (
    <div
      style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr) auto', height: '100%', minHeight: 0 }}
    >
      <div
        style={{
          display: 'flex',
          justifyContent: 'space-between',
          alignItems: 'baseline',
          padding: '2px 2px 6px',
        }}
      >
        <span style={{ color: 'var(--quiet)', fontSize: 12.5 }}>{t('delivery.updatesLive')}</span>
        <b
          style={{
            color: mend > 0 ? 'var(--rose)' : look > 0 ? 'var(--larch)' : 'var(--moss)',
            fontSize: 13.5,
          }}
          role="status"
        >
          {mend > 0
            ? t('delivery.mendToFix', { mend })
            : look > 0
              ? t('delivery.lookToCheck', { look })
              : t('delivery.allGood2')}
        </b>
      </div>
      <ul
        style={{ listStyle: 'none', margin: 0, padding: 0, overflow: 'auto', minHeight: 0 }}
        tabIndex={0}
        aria-label={t('delivery.checks')}
      >
        {checks.map((check) => {
          const { sign, colour, word } = MARK[check.state];
          return (
            <li
              key={check.id}
              style={{
                display: 'grid',
                gridTemplateColumns: '18px minmax(0, 1fr) auto',
                gap: 8,
                alignItems: 'center',
                padding: '7px 2px',
                borderBottom: '1px solid var(--line)',
              }}
            >
              <span
                role="img"
                aria-label={word}
                style={{ color: colour, fontSize: 17, lineHeight: 1, textAlign: 'center' }}
              >
                {sign}
              </span>
              <span style={{ minWidth: 0 }}>
                <b style={{ fontSize: 13.5, fontWeight: 600 }}>{check.name}</b>
                <span style={{ display: 'block', color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.35 }}>
                  {check.text}
                </span>
              </span>
              {check.fix && (
                <Button
                  onClick={() => run(check.fix!.fix, check.fix!.recordId)}
                  aria-label={`${check.fix.label}: ${check.name}`}
                  sx={{ bgcolor: 'var(--raised)', whiteSpace: 'nowrap', minHeight: 30, py: 0.25 }}
                >
                  {check.fix.label}
                </Button>
              )}
            </li>
          );
        })}
      </ul>
      {off && !live && (
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8, paddingTop: 10 }}>
          <Button
            onClick={go}
            disabled={control.busy || (ready === 0 && mend === 0)}
            sx={{ gridColumn: '1 / 3', border: '1.5px solid var(--ember)', color: 'var(--text)', height: 42 }}
          >
            {later
              ? `Go live (${ready}), add ${broken.map((d) => d.name).join(' and ')} later`
              : mend > 0
                ? t('delivery.goLiveAnyway')
                : ready === 0
                  ? t('delivery.goLiveNoDestinationIs')
                  : `Go live (${ready === 1 ? '1 destination' : `${ready} destinations`})`}
          </Button>
          <Button
            onClick={control.record}
            disabled={control.busy}
            sx={{ bgcolor: 'var(--raised)', height: 36 }}
          >
            {t('delivery.recordOnly')}
          </Button>
          <Button
            onClick={control.rehearse}
            disabled={control.busy || !data.canRehearse}
            title={t('delivery.theSamePlanSentTo')}
            sx={{ bgcolor: 'var(--raised)', height: 36 }}
          >
            {t('delivery.rehearsePrivately')}
          </Button>
        </div>
      )}
    </div>
  );
}
