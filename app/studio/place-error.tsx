import Button from '@mui/material/Button';
import { isRouteErrorResponse, useRevalidator, useRouteError } from 'react-router';
import { messageOf } from '~/core/fault';
import { Panel } from './panel';

/** One place cannot be shown: the desk, and what is on air, go on around it. */
export function PlaceError() {
  const error = useRouteError();
  const { revalidate, state } = useRevalidator();
  const answer = isRouteErrorResponse(error) ? (error.data as { message?: string } | string | null) : null;
  const words =
    typeof answer === 'string'
      ? answer
      : (answer?.message ?? (isRouteErrorResponse(error) ? error.statusText : messageOf(error)));
  return (
    <Panel label="This place cannot be shown" title="This place cannot be shown">
      <div role="alert" style={{ lineHeight: 1.5, maxWidth: 620 }}>
        <p style={{ marginTop: 0 }}>
          {words || 'The studio’s server does not answer. Check that it is running.'}
        </p>
        <p style={{ color: 'var(--quiet)' }}>
          The desk continues: what is on air stays on air. Try again, or go to another place.
        </p>
        <Button disabled={state !== 'idle'} onClick={() => void revalidate()}>
          Try again
        </Button>
      </div>
    </Panel>
  );
}
