import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { useFetcher, useParams } from 'react-router';
import { withMinus } from '~/core/format/numbers';
import type { EveningSummary } from '~/core/delivery/evening';
import type { Evening } from '~/server/vault/evening-repository';
import { useTranslation } from '../words/words';
import { DATE, length } from './format';

// Looked at after a show, with an engine of its own.
const MomentDialog = lazy(() => import('./moment-dialog').then((m) => ({ default: m.MomentDialog })));

type Listed = Evening & { summary: EveningSummary };

/** Evenings with their figures; each beside the one before, so that one sees what became better. */
export function EveningList({ evenings }: { evenings: readonly Listed[] }) {
  const { t } = useTranslation();
  const { showId } = useParams();
  const fetcher = useFetcher();
  if (evenings.length === 0)
    return <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>{t('vault.whatHappenedInABroadcast')}</p>;
  return evenings.map((evening, i) => {
    const { summary } = evening;
    const before = evenings[i + 1]?.summary ?? null;
    const lost = (s: EveningSummary) => s.lost.machine + s.lost.encoder + s.lost.line + s.lost.away;
    const share = (s: EveningSummary) =>
      s.due === 0 ? 'unknown' : `${((100 * lost(s)) / s.due).toFixed(2)}%`;
    const rows: [string, string, string][] = [
      ['Length', length(summary.seconds), before ? length(before.seconds) : ''],
      [
        'Frames dropped',
        summary.due === 0 ? 'unknown' : `${lost(summary)} of ${summary.due} (${share(summary)})`,
        before ? share(before) : '',
      ],
      [
        'By cause',
        `rendering ${summary.lost.machine}, encoder ${summary.lost.encoder}, connection ${summary.lost.line}, desk gone ${summary.lost.away}`,
        '',
      ],
      [
        'Loudness',
        summary.integratedLufs === null ? 'unknown' : `${withMinus(summary.integratedLufs.toFixed(1))} LUFS`,
        before?.integratedLufs == null ? '' : `${withMinus(before.integratedLufs.toFixed(1))} LUFS`,
      ],
      [
        'Chat, events',
        `${summary.chat}, ${summary.events}`,
        before ? `${before.chat}, ${before.events}` : '',
      ],
      ...summary.destinations.map((d): [string, string, string] => [
        d.name,
        `${d.meanKbps} kbps, ${d.dropped} dropped${d.breaks > 0 ? `, ${d.breaks} breaks` : ''}`,
        before?.destinations
          .find((o) => o.name === d.name)
          ?.meanKbps.toString()
          .concat(' kbps') ?? '',
      ]),
    ];
    const file = (format: string) => `/show/${showId}/reports/${evening.id}/${format}`;
    return (
      <section
        key={evening.id}
        aria-label={`Broadcast of ${DATE.format(evening.startedMs)}`}
        style={{ background: 'var(--raised)', borderRadius: 8, padding: '10px 12px', marginBottom: 8 }}
      >
        <div style={{ display: 'flex', alignItems: 'baseline', gap: 8 }}>
          <b style={{ flex: 1 }}>{DATE.format(evening.startedMs)}</b>
          {evening.endedMs === null && (
            <span style={{ color: 'var(--ember)', fontSize: 12.5 }}>{t('vault.onNow')}</span>
          )}
        </div>
        <div style={{ color: 'var(--quiet)', fontSize: 12.5, marginBottom: 6 }}>{evening.title}</div>
        <table style={{ width: '100%', fontSize: 12.5, borderCollapse: 'collapse' }}>
          <thead>
            <tr style={{ color: 'var(--quiet)', textAlign: 'left' }}>
              <th scope="col" style={{ fontWeight: 400 }}>
                <span className="visually-hidden">{t('vault.figure')}</span>
              </th>
              <th scope="col" style={{ fontWeight: 400 }}>
                {t('vault.thisBroadcast')}
              </th>
              <th scope="col" style={{ fontWeight: 400 }}>
                {before ? t('vault.theOneBefore') : ''}
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([name, now, then]) => (
              <tr key={name}>
                <th
                  scope="row"
                  style={{ textAlign: 'left', fontWeight: 400, color: 'var(--quiet)', paddingRight: 8 }}
                >
                  {name}
                </th>
                <td className="figure">{now}</td>
                <td className="figure" style={{ color: 'var(--quiet)' }}>
                  {then}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div style={{ display: 'flex', gap: 4, marginTop: 6, flexWrap: 'wrap' }}>
          <Moments evening={evening} />
          <Button component="a" href={file('csv')} download>
            {t('vault.tableCsv')}
          </Button>
          <Button component="a" href={file('jsonl')} download>
            {t('vault.everythingJsonLines')}
          </Button>
          <Button component="a" href={file('vtt')} download>
            {t('vault.chaptersWebvtt')}
          </Button>
          {evening.endedMs !== null && (
            <Button
              aria-label={`Remove the report of ${DATE.format(evening.startedMs)}`}
              onClick={() =>
                void fetcher.submit({ intent: 'deleteEvening', id: evening.id }, { method: 'post' })
              }
              sx={{ color: 'var(--rose)', marginLeft: 'auto' }}
            >
              {t('vault.remove')}
            </Button>
          )}
        </div>
      </section>
    );
  });
}

function Moments({ evening }: { evening: Evening }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>{t('moments.open')}</Button>
      {open && (
        <Suspense fallback={null}>
          <MomentDialog evening={evening} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
