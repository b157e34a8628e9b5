import Button from '@mui/material/Button';
import { isRouteErrorResponse, useRevalidator, useRouteError } from 'react-router';
import { messageOf } from '~/core/fault';
import { Panel } from './panel';
import { useTranslation } from '../words/words';

/** One place cannot be shown: the desk, and what is on air, go on around it. */
export function PlaceError() {
  const { t } = useTranslation();
  const error = useRouteError();
  const { revalidate, state } = useRevalidator();
  const answer = isRouteErrorResponse(error) ? (error.data as { message?: string } | string | null) : null;
  const words =
    typeof answer === 'string'
      ? answer
      : (answer?.message ?? (isRouteErrorResponse(error) ? error.statusText : messageOf(error)));
  return (
    <Panel label={t('shell.thisPlaceCannotBeShown')} title={t('shell.thisPlaceCannotBeShown')}>
      <div role="alert" style={{ lineHeight: 1.5, maxWidth: 620 }}>
        <p style={{ marginTop: 0 }}>
          {words || 'The studio’s server does not answer. Check that it is running.'}
        </p>
        <p style={{ color: 'var(--quiet)' }}>{t('shell.theDeskContinuesWhatIs')}</p>
        <Button disabled={state !== 'idle'} onClick={() => void revalidate()}>
          {t('shell.tryAgain')}
        </Button>
      </div>
    </Panel>
  );
}
