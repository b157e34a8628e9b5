import Button from '@mui/material/Button';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import type { AccessEntry } from '~/protocol/access';
import { WHEN } from './format';

const ROLE_WORDS: Record<AccessEntry['role'], string> = {
  owner: 'Owner: may do everything',
  operator: 'Operator: may run the show',
  guest: 'Guest: may come on air when let in',
  watcher: 'Watcher: may look',
};

/** Browsers that are signed in and links that let others in. @param me the entry of this very browser */
export function AccessList({ entries, me }: { entries: readonly AccessEntry[]; me: string }) {
  return (
    <ul style={{ listStyle: 'none', margin: 0, padding: 0 }}>
      {entries.map((entry) => (
        <Entry key={entry.id} entry={entry} mine={entry.id === me} />
      ))}
    </ul>
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
