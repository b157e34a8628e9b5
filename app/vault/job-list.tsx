import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useFetcher } from 'react-router';
import { Panel } from '../studio/panel';
import { useBus } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const STATE_WORDS = {
  waiting: 'waits',
  running: 'being made',
  done: 'done and proven',
  failed: 'failed',
  cancelled: 'cancelled',
} as const;

/** Copies that are being made; nothing is shown while there were none. */
export function JobList() {
  const { t } = useTranslation();
  const jobs = useBus((now) => now.jobs);
  const fetcher = useFetcher();
  if (jobs.length === 0) return null;
  return (
    <Panel label={t('vault.copies')} title={t('vault.copies')} style={{ maxHeight: 200 }}>
      {[...jobs].reverse().map((job) => (
        <div key={job.id} style={{ padding: '5px 0', borderBottom: '1px solid var(--line)', fontSize: 13 }}>
          <div style={{ display: 'flex', gap: 8, alignItems: 'baseline' }}>
            <span style={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
              {job.name}.{job.to}
            </span>
            <span
              style={{
                color:
                  job.state === 'failed'
                    ? 'var(--rose)'
                    : job.state === 'done'
                      ? 'var(--moss)'
                      : 'var(--quiet)',
              }}
            >
              {job.state === 'failed' ? '◆ ' : job.state === 'done' ? '● ' : ''}
              {STATE_WORDS[job.state]}
            </span>
            {(job.state === 'running' || job.state === 'waiting') && (
              <Button
                aria-label={t('vault.cancelName', { name: job.name })}
                onClick={() => void fetcher.submit({ intent: 'cancel', id: job.id }, { method: 'post' })}
              >
                {t('vault.cancel')}
              </Button>
            )}
          </div>
          {job.state === 'running' && (
            <LinearProgress
              variant="determinate"
              value={job.progress * 100}
              aria-label={t('vault.makingName', { name: job.name })}
            />
          )}
          {job.message && <div style={{ color: 'var(--rose)', lineHeight: 1.35 }}>{job.message}</div>}
        </div>
      ))}
    </Panel>
  );
}
