import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { useRef, useState } from 'react';
import { mbps } from '~/core/delivery/plan-advice';
import type { DestinationRecord, PlanRecord } from '~/core/show/records';
import type { LineTest } from '~/protocol/vault';
import { useBus, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const SECONDS = 5;
const TIME = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});

interface Server {
  destination: DestinationRecord;
  name: string;
  url: string;
}

function serversOf(destinations: readonly DestinationRecord[]): Server[] {
  return destinations.flatMap((destination) => {
    const { servers, url } = destination;
    const all = servers.some((s) => s.url === url) ? servers : [{ name: new URL(url).host, url }, ...servers];
    return all.map(({ name, url: address }) => ({ destination, name, url: address }));
  });
}

/** Measures the way up to every server, one after the other; the best one can be taken, and the plan told. */
export function LineDialog({
  open,
  onClose,
  destinations,
  plan,
  tests,
  refresh,
  live,
}: {
  open: boolean;
  onClose: () => void;
  destinations: readonly DestinationRecord[];
  plan: PlanRecord | null;
  tests: readonly LineTest[];
  refresh: () => Promise<void>;
  live: boolean;
}) {
  const { t } = useTranslation();
  const { showId, store } = useStudio();
  const services = useBus((now) => now.services);
  const secondsOf = ({ connector }: DestinationRecord) =>
    services.find(({ id }) => id === connector)?.testSeconds ?? SECONDS;
  const [running, setRunning] = useState<Server | null>(null);
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const stop = useRef(false);
  const servers = serversOf(destinations);
  const newest = (s: Server) =>
    tests.find((t) => t.destinationId === s.destination.id && t.server === s.name);
  const measure = async () => {
    stop.current = false;
    setProblems(new Map());
    for (const server of servers) {
      if (stop.current) break;
      setRunning(server);
      let problem = '';
      try {
        const response = await fetch(`/show/${showId}/line-test`, {
          method: 'POST',
          body: new URLSearchParams({
            destinationId: server.destination.id,
            url: server.url,
            seconds: String(secondsOf(server.destination)),
          }),
        });
        const answer = (await response.json()) as { message?: string };
        if (!response.ok) problem = answer.message ?? 'the test did not work';
      } catch {
        problem = 'the studio server does not answer';
      }
      if (problem) setProblems((all) => new Map(all).set(server.url, problem));
      await refresh();
    }
    setRunning(null);
  };
  const measured = servers.flatMap((s) => newest(s) ?? []);
  const best = Math.max(0, ...measured.map((t) => t.sustainedKbps));
  const history = tests.slice(0, 24).reverse();
  return (
    <Dialog open={open} onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>{t('delivery.testUploadSpeed')}</DialogTitle>
      <DialogContent>
        <p style={{ color: 'var(--quiet)', margin: '0 0 12px', lineHeight: 1.45 }}>
          Sends as much as it can to each server for some seconds, without broadcasting. Stop other uploads
          first
          {live ? '; a broadcast is on now and will be disturbed' : ''}.
        </p>
        <div role="table" aria-label={t('delivery.servers')}>
          {servers.map((server) => {
            const test = newest(server);
            const problem = problems.get(server.url);
            const used = server.destination.url === server.url;
            return (
              <div
                role="row"
                key={server.destination.id + server.url}
                style={{
                  display: 'grid',
                  gridTemplateColumns: '150px 104px 96px minmax(0, 1fr) 120px',
                  gap: 12,
                  alignItems: 'center',
                  minHeight: 50,
                  borderBottom: '1px solid var(--line)',
                }}
              >
                <span role="cell">
                  <b>{server.destination.name}</b>
                  <span style={{ display: 'block', color: 'var(--quiet)', fontSize: 12.5 }}>
                    {server.name}
                  </span>
                </span>
                {running?.url === server.url ? (
                  <span role="cell" style={{ gridColumn: '2 / 5' }}>
                    <LinearProgress aria-label={t('delivery.testingName', { name: server.name })} />
                  </span>
                ) : problem ? (
                  <span role="cell" style={{ gridColumn: '2 / 5', color: 'var(--rose)', fontSize: 13 }}>
                    {problem}
                  </span>
                ) : test ? (
                  <>
                    <span role="cell">
                      <b className="figure">{mbps(test.sustainedKbps)} Mbps</b>
                      <span style={{ display: 'block', color: 'var(--quiet)', fontSize: 12.5 }}>
                        {test.verdict}
                      </span>
                    </span>
                    <span role="cell" className="figure" style={{ fontSize: 12.5, color: 'var(--quiet)' }}>
                      {Math.round(test.idleRoundTripMs)} ms
                      <span style={{ display: 'block' }}>
                        {test.loadedRoundTripMs === null
                          ? t('delivery.fullNoAnswer')
                          : `full ${Math.round(test.loadedRoundTripMs)} ms`}
                      </span>
                    </span>
                    <span role="cell">
                      <RateLine rates={test.rates} />
                    </span>
                  </>
                ) : (
                  <span role="cell" style={{ gridColumn: '2 / 5', color: 'var(--quiet)', fontSize: 13 }}>
                    {t('delivery.notMeasuredYet')}
                  </span>
                )}
                <span role="cell" style={{ textAlign: 'right' }}>
                  {used ? (
                    <span style={{ color: 'var(--moss)', fontSize: 13 }}>{t('delivery.inUse2')}</span>
                  ) : (
                    <Button
                      onClick={() =>
                        store.edit(t('delivery.serverOfName', { name: server.destination.name }), [
                          { ...server.destination, url: server.url },
                        ])
                      }
                    >
                      {t('delivery.useThisOne')}
                    </Button>
                  )}
                </span>
              </div>
            );
          })}
        </div>
        {servers.length === 0 && <p>{t('delivery.switchADestinationOnFirst')}</p>}
        {history.length > 1 && <History tests={history} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('delivery.close')}</Button>
        {running ? (
          <Button onClick={() => (stop.current = true)}>{t('delivery.stopAfterThisOne')}</Button>
        ) : (
          <Button onClick={() => void measure()} disabled={servers.length === 0}>
            {t('delivery.measureNow')}
          </Button>
        )}
        <Button
          variant="contained"
          disabled={running !== null || best === 0 || !plan || plan.lineKbps === Math.round(best)}
          onClick={() =>
            plan &&
            store.edit(t('delivery.measuredLine'), [{ ...plan, lineKbps: Math.max(1, Math.round(best)) }])
          }
        >
          {best > 0 ? `Plan with ${mbps(best)} Mbps` : t('delivery.planWithIt')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** The rate over one test. */
function RateLine({ rates }: { rates: readonly number[] }) {
  const { t } = useTranslation();
  const x = scaleLinear([0, Math.max(1, rates.length - 1)], [2, 198]);
  const y = scaleLinear([0, Math.max(1, ...rates)], [30, 4]);
  const path = line<number>(
    (_, i) => x(i),
    (r) => y(r),
  )(rates);
  return (
    <svg
      viewBox="0 0 200 34"
      style={{ width: '100%', height: 34 }}
      role="img"
      aria-label={t('delivery.rateOverTheTest')}
    >
      <path d={path ?? ''} fill="none" stroke="var(--glacier)" strokeWidth={1.8} />
    </svg>
  );
}

/** What earlier tests found. */
function History({ tests }: { tests: readonly LineTest[] }) {
  const { t } = useTranslation();
  const top = Math.max(1, ...tests.map((t) => t.sustainedKbps));
  return (
    <figure style={{ margin: '14px 0 0' }}>
      <figcaption style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
        Earlier tests, up to {mbps(top)} Mbps
      </figcaption>
      <svg
        viewBox={`0 0 ${tests.length * 24} 60`}
        style={{ height: 60, maxWidth: '100%' }}
        role="img"
        aria-label={t('delivery.earlierTests')}
      >
        {tests.map((t, i) => {
          const height = Math.max(2, (t.sustainedKbps / top) * 54);
          return (
            <rect
              key={t.id}
              x={i * 24 + 4}
              y={58 - height}
              width={16}
              height={height}
              rx={2}
              fill="var(--glacier)"
              fillOpacity={0.55}
            >
              <title>{`${TIME.format(t.atMs)}, ${t.server}: ${mbps(t.sustainedKbps)} Mbps, ${t.verdict}`}</title>
            </rect>
          );
        })}
      </svg>
    </figure>
  );
}
