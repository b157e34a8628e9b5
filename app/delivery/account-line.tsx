import Button from '@mui/material/Button';
import { useCallback, useEffect, useState } from 'react';
import type { AccountState } from '~/server/accounts/platform-accounts';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const ASK_MS = 1500;

/** Signing in to a platform's account: a short code is entered on its own page; the key then comes by itself. */
export function AccountLine({
  destinationId,
  name,
  account,
  refresh,
}: {
  destinationId: string;
  name: string;
  account: AccountState;
  refresh: () => Promise<void>;
}) {
  const { showId } = useStudio();
  const { t } = useTranslation();
  const [state, setState] = useState(account);
  const [problem, setProblem] = useState('');
  useEffect(() => setState(account), [account]);
  const send = useCallback(
    async (intent: 'begin' | 'state' | 'signOut') => {
      setProblem('');
      try {
        const response = await fetch(`/show/${showId}/accounts`, {
          method: 'POST',
          body: new URLSearchParams({ intent, destinationId }),
        });
        const answer = (await response.json()) as { account?: AccountState; message?: string };
        if (answer.account) setState(answer.account);
        else setProblem(answer.message ?? 'That did not work: try again.');
        if (answer.account && !['waiting', 'away'].includes(answer.account.state)) await refresh();
      } catch {
        setProblem('The studio server does not answer: check that it runs, then try again.');
      }
    },
    [showId, destinationId, refresh],
  );
  const waiting = state.state === 'waiting' || state.state === 'away';
  useEffect(() => {
    if (!waiting) return;
    const timer = setInterval(() => void send('state'), ASK_MS);
    return () => clearInterval(timer);
  }, [waiting, send]);
  return (
    <div
      style={{ fontSize: 13, lineHeight: 1.45, gridColumn: '1 / -1' }}
      role="group"
      aria-label={t('delivery.accountOfName', { name })}
    >
      {state.state === 'none' && (
        <Button onClick={() => void send('begin')} sx={{ bgcolor: 'var(--ground)' }}>
          Sign in to {name}
        </Button>
      )}
      {state.state === 'waiting' && (
        <>
          Open{' '}
          <a href={state.verificationUrl} target="_blank" rel="noopener" style={{ color: 'var(--glacier)' }}>
            {name}
          </a>{' '}
          and enter <b className="figure">{state.userCode}</b>. Waiting…{' '}
          <Button onClick={() => void send('signOut')}>{t('delivery.giveUp')}</Button>
        </>
      )}
      {state.state === 'away' && (
        <>
          <a href={state.url} target="_blank" rel="noopener" style={{ color: 'var(--glacier)' }}>
            {t('services.goThere', { name })}
          </a>
          {'. '}
          {t('services.away')} <Button onClick={() => void send('signOut')}>{t('delivery.giveUp')}</Button>
        </>
      )}
      {state.state === 'signedIn' && (
        <>
          <span style={{ color: 'var(--moss)' }}>{t('delivery.signedIn')}</span>{' '}
          {t('delivery.theKeyArrivesAutomaticallyTitle')}{' '}
          <Button onClick={() => void send('signOut')}>{t('delivery.signOut')}</Button>
        </>
      )}
      {state.state === 'failed' && (
        <>
          <span style={{ color: 'var(--rose)' }}>◆ {state.message}</span>{' '}
          <Button onClick={() => void send('begin')}>{t('delivery.tryAgain')}</Button>
        </>
      )}
      {problem && <span style={{ color: 'var(--rose)' }}>{problem}</span>}
    </div>
  );
}
