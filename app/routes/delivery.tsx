import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { useLocation } from 'react-router';
import { encodesInUse, enabledDestinations, planInUse } from '~/core/delivery/live-plan';
import { followPlan } from '~/core/delivery/plan-steps';
import type { Fix } from '~/core/delivery/preflight';
import { PLAIN_DESTINATION } from '~/core/delivery/settings';
import { recordsOf } from '~/core/show/document';
import { AddDestination } from '../delivery/add-destination';
import { DestinationRow } from '../delivery/destination-row';
import { FlowDrawing } from '../delivery/flow-drawing';
import { KeepingPanel } from '../delivery/keeping-panel';
import { LineDialog } from '../delivery/line-dialog';
import { LiveHistory } from '../delivery/live-history';
import { PlanChoice } from '../delivery/plan-choice';
import { PlanValues } from '../delivery/plan-values';
import { PreflightPanel } from '../delivery/preflight-panel';
import { ProposalDialog } from '../delivery/proposal-dialog';
import { ComputerDialog } from '../delivery/computer-dialog';
import { TrialDialog } from '../delivery/trial-dialog';
import { usePreflight, useServerFacts } from '../delivery/use-preflight';
import type { GoneTo } from '../palette/entries';
import { ChoiceRow } from '../studio/choice-row';
import { Panel } from '../studio/panel';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

const NO_ACCOUNT = { state: 'none' } as const;

type Side = 'preflight' | 'destinations' | 'keeping';

export default function Delivery() {
  const { store, showId } = useStudio();
  const live = useDesk((now) => now.live);
  const document = useDocument();
  const { t } = useTranslation();
  const relay = useBus((now) => now.relay);
  const broadcast = useBus((now) => now.broadcast);
  const { facts, refresh } = useServerFacts();
  const checks = usePreflight(facts);
  const [side, setSide] = useState<Side>(live ? 'destinations' : 'preflight');
  const [planShown, setPlanShown] = useState(false);
  const [opened, setOpened] = useState<string | null>(null);
  const [dialog, setDialog] = useState<'line' | 'proposal' | 'trial' | 'computer' | null>(null);
  // Found from elsewhere.
  const gone = useLocation().state as GoneTo | null;
  useEffect(() => {
    if (gone?.side) setSide(gone.side);
    if (gone?.dialog) setDialog(gone.dialog);
  }, [gone]);
  // Once live, how the destinations do is worth more than the checklist.
  useEffect(() => {
    if (live) setSide((now) => (now === 'preflight' ? 'destinations' : now));
  }, [live]);
  const destinations = recordsOf(document, 'destination');
  const enabled = enabledDestinations(document);
  const plan = planInUse(document);
  // While live, what runs: the plan may have changed since.
  const planned = encodesInUse(document, plan);
  const encodes = broadcast.state === 'on' ? broadcast.encodes : planned;
  const sentPlan = broadcast.state === 'on' && plan ? { ...plan, ...broadcast.encoding } : plan;
  const { frames } = recordsOf(document, 'show')[0];
  const statuses = relay?.session?.destinations ?? [];
  const open = (id: string) => {
    setSide('destinations');
    setOpened(id);
  };
  const fix = (what: Fix, recordId: string | null) => {
    if (what === 'measureLine') setDialog('line');
    else if (what === 'measureComputer') setDialog('computer');
    else if (what === 'proposePlan') setDialog('proposal');
    else if (what === 'openKeeping') setSide('keeping');
    else if (recordId) open(recordId);
    else setSide('destinations');
  };
  const add = () => {
    const id = crypto.randomUUID();
    store.edit(t('delivery.addDestination'), [
      {
        kind: 'destination',
        id,
        showId,
        name: `Destination ${destinations.length + 1}`,
        position: (destinations.at(-1)?.position ?? -1) + 1,
        url: 'rtmp://127.0.0.1/live',
        frame: 'wide',
        enabled: false,
        connector: null,
        ...PLAIN_DESTINATION,
      },
    ]);
    setOpened(id);
  };
  const roundTrips = new Map(
    destinations.flatMap((d) => {
      const name = d.servers.find((s) => s.url === d.url)?.name;
      const test = facts?.lineTests.find((t) => t.destinationId === d.id && t.server === name);
      return test ? [[d.id, test.idleRoundTripMs] as const] : [];
    }),
  );
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) minmax(380px, 430px)',
        gap: 12,
        height: '100%',
      }}
    >
      <div style={{ display: 'grid', gridTemplateRows: 'minmax(0, 1fr) auto', gap: 12, minHeight: 0 }}>
        <Panel
          label={t('delivery.flow')}
          title={<PlanChoice plan={plan} />}
          aside={
            <div style={{ display: 'flex', gap: 8 }}>
              <Button onClick={() => setDialog('line')} sx={{ bgcolor: 'var(--raised)' }}>
                {t('delivery.testUploadSpeed')}
              </Button>
              <Button onClick={() => setDialog('computer')} sx={{ bgcolor: 'var(--raised)' }}>
                {t('carries.open')}
              </Button>
              <Button onClick={() => setDialog('trial')} disabled={!plan} sx={{ bgcolor: 'var(--raised)' }}>
                {t('delivery.compareEncoders')}
              </Button>
              <Button
                onClick={() => setDialog('proposal')}
                disabled={!plan}
                sx={{ bgcolor: 'var(--raised)' }}
              >
                {t('delivery.proposePlan')}
              </Button>
            </div>
          }
          style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)' }}
        >
          {sentPlan && (
            <FlowDrawing
              plan={sentPlan}
              encodes={encodes}
              frames={frames}
              destinations={enabled}
              statuses={statuses}
              roundTrips={roundTrips}
              onOpen={open}
            />
          )}
        </Panel>
        {live && !planShown ? (
          <LiveHistory onPlan={() => setPlanShown(true)} />
        ) : (
          plan && (
            <PlanValues
              plan={plan}
              encodes={live ? followPlan(encodes, planned) : encodes}
              onHealth={live ? () => setPlanShown(false) : undefined}
            />
          )
        )}
      </div>
      <Panel
        label={t('delivery.deliverySide')}
        style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 10, overflow: 'hidden' }}
      >
        <ChoiceRow
          label={t('delivery.shownBeside')}
          options={[
            { value: 'preflight', words: t('delivery.preflight') },
            { value: 'destinations', words: t('delivery.destinations') },
            { value: 'keeping', words: t('delivery.recording') },
          ]}
          value={side}
          onChange={setSide}
        />
        {side === 'preflight' ? (
          <PreflightPanel checks={checks} onFix={fix} />
        ) : side === 'keeping' ? (
          <KeepingPanel facts={facts} refresh={refresh} />
        ) : (
          <section aria-label={t('delivery.destinations')} style={{ overflow: 'auto', minHeight: 0 }}>
            {broadcast.state === 'relayGone' && (
              <p role="alert" style={{ color: 'var(--rose)', marginTop: 0 }}>
                {broadcast.message}
              </p>
            )}
            {destinations.length === 0 && (
              <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>{t('delivery.whereTheBroadcastGoesA')}</p>
            )}
            {destinations.map((destination) => (
              <DestinationRow
                key={destination.id}
                destination={destination}
                status={statuses.find((s) => s.id === destination.id) ?? null}
                keyFacts={facts?.keys.find((k) => k.destinationId === destination.id) ?? null}
                account={facts?.accounts.find((a) => a.destinationId === destination.id) ?? NO_ACCOUNT}
                refresh={refresh}
                open={opened === destination.id}
                onOpen={(yes) => setOpened(yes ? destination.id : null)}
              />
            ))}
            <AddDestination onPlain={add} onAdded={setOpened} />
          </section>
        )}
      </Panel>
      <LineDialog
        open={dialog === 'line'}
        onClose={() => setDialog(null)}
        destinations={enabled}
        plan={plan}
        tests={facts?.lineTests ?? []}
        refresh={refresh}
        live={live}
      />
      {dialog === 'proposal' && plan && <ProposalDialog plan={plan} onClose={() => setDialog(null)} />}
      {dialog === 'computer' && plan && <ComputerDialog plan={plan} onClose={() => setDialog(null)} />}
      {dialog === 'trial' && plan && (
        <TrialDialog plan={plan} encodes={encodes} onClose={() => setDialog(null)} />
      )}
    </div>
  );
}
