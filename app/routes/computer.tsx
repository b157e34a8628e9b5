import Button from '@mui/material/Button';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import type { Audited } from '~/core/access/roles';
import { accessOrderSchema, type AccessEntry } from '~/protocol/access';
import { faultResponse, studioOf } from '../server/context.server';
import { Panel } from '../studio/panel';
import { ThemeSwitch } from '../studio/theme-switch';
import type { Route } from './+types/computer';

export const meta = () => [{ title: 'This computer – Dolomite' }];

/** Who may do what on this computer, and who did. */
export function loader({ context }: Route.LoaderArgs) {
  const { access } = studioOf(context);
  return { entries: access.list(), audit: access.audited(), me: context.visitor.id };
}

export async function action({ request, context }: Route.ActionArgs) {
  const { access } = studioOf(context);
  const { error, value } = accessOrderSchema.validate(Object.fromEntries(await request.formData()));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    access.revoke(context.visitor, value.id);
    return Response.json({ message: 'Revoked.' });
  } catch (fault) {
    return faultResponse(fault);
  }
}

const WHEN = new Intl.DateTimeFormat('en', { dateStyle: 'medium', timeStyle: 'short' });
const ROLE_WORDS: Record<AccessEntry['role'], string> = {
  owner: 'Owner: may do everything',
  operator: 'Operator: may run the show',
  guest: 'Guest: may come on air when let in',
  watcher: 'Watcher: may look',
};
const AUDIT_WORDS: Record<Audited, string> = {
  signedIn: 'Signed in',
  signInRefused: 'Was refused at sign-in',
  linkMade: 'Made a link',
  revoked: 'Revoked',
  secretSet: 'Set a stream key or password',
  secretRemoved: 'Removed a stream key or password',
  wentLive: 'Went live',
  stopped: 'Stopped the broadcast',
  deleted: 'Deleted',
  exported: 'Exported',
};

export default function Computer({ loaderData: { entries, audit, me } }: Route.ComponentProps) {
  return (
    <main
      style={{
        ...{ height: '100vh', display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 14 },
        ...{ padding: '16px 20px', maxWidth: 1180, margin: '0 auto', boxSizing: 'border-box' },
      }}
    >
      <header style={{ display: 'flex', alignItems: 'center', gap: 12 }}>
        <h1 style={{ font: '700 22px "Bricolage Grotesque Variable"', margin: 0, flex: 1 }}>This computer</h1>
        <ThemeSwitch />
        <Button component="a" href="/" sx={{ bgcolor: 'var(--raised)' }}>
          Open the studio
        </Button>
      </header>
      <div style={{ display: 'grid', gridTemplateColumns: '3fr 2fr', gap: 14, minHeight: 0 }}>
        <Panel label="Who may do what" title="Who may do what" style={{ minHeight: 0 }}>
          <p style={{ color: 'var(--quiet)', margin: '0 0 10px', lineHeight: 1.45 }}>
            Each browser here may open this studio until you revoke it. To sign another one in, type{' '}
            <code>npm run sign-in</code> where Dolomite runs and open the address it prints.
          </p>
          <ul style={{ listStyle: 'none', margin: 0, padding: 0 }}>
            {entries.map((entry) => (
              <Entry key={entry.id} entry={entry} mine={entry.id === me} />
            ))}
          </ul>
        </Panel>
        <Panel label="What was done" title="What was done" style={{ minHeight: 0 }}>
          <ol style={{ listStyle: 'none', margin: 0, padding: 0 }} tabIndex={0} aria-label="What was done">
            {audit.map(({ seq, atMs, who, what, about }) => (
              <li key={seq} style={{ padding: '7px 0', borderBottom: '1px solid var(--line)' }}>
                <div style={{ display: 'flex', gap: 8, alignItems: 'baseline' }}>
                  <b style={{ flex: 1, fontWeight: 600 }}>{AUDIT_WORDS[what]}</b>
                  <span className="figure" style={{ color: 'var(--quiet)', fontSize: 12 }}>
                    {WHEN.format(atMs)}
                  </span>
                </div>
                <div style={{ color: 'var(--quiet)', fontSize: 13 }}>
                  {who}
                  {about && about !== who ? ` · ${about}` : ''}
                </div>
              </li>
            ))}
          </ol>
        </Panel>
      </div>
    </main>
  );
}

function Entry({ entry, mine }: { entry: AccessEntry; mine: boolean }) {
  const fetcher = useFetcher<{ message: string }>();
  const [asked, setAsked] = useState(false);
  const busy = fetcher.state !== 'idle';
  const revoke = () => {
    // This very browser would be sent out: asked once more.
    if (mine && !asked) return setAsked(true);
    void fetcher.submit({ intent: 'revoke', id: entry.id }, { method: 'post' });
  };
  return (
    <li
      style={{
        ...{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto', gap: 10, alignItems: 'center' },
        ...{ padding: '9px 0', borderBottom: '1px solid var(--line)' },
      }}
    >
      <div style={{ minWidth: 0 }}>
        <div style={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {entry.name}
          {mine && <span style={{ color: 'var(--glacier)', fontWeight: 500 }}> · this browser</span>}
        </div>
        <div style={{ color: 'var(--quiet)', fontSize: 13 }}>
          {ROLE_WORDS[entry.role]}
          {entry.kind === 'link' &&
            ` · link${entry.usesLeft === null ? '' : `, uses left: ${entry.usesLeft}`}`}
        </div>
        <div className="figure" style={{ color: 'var(--quiet)', fontSize: 12 }}>
          {entry.seenMs === null
            ? `Made ${WHEN.format(entry.createdMs)}`
            : `Seen ${WHEN.format(entry.seenMs)}, since ${WHEN.format(entry.createdMs)}`}
          {entry.expiresMs !== null && `, until ${WHEN.format(entry.expiresMs)}`}
        </div>
        {fetcher.data && busy === false && (
          <div role="alert" style={{ color: 'var(--rose)', fontSize: 13 }}>
            {fetcher.data.message}
          </div>
        )}
      </div>
      <Button
        onClick={revoke}
        disabled={busy}
        aria-label={`Revoke ${entry.name}`}
        sx={{ color: 'var(--rose)', bgcolor: 'var(--raised)', minWidth: 132 }}
      >
        {mine && asked ? 'Revoke this one?' : 'Revoke'}
      </Button>
    </li>
  );
}
