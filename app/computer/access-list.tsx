import Button from '@mui/material/Button';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import type { AccessEntry } from '~/protocol/access';
import { momentOf } from '../home/format';
import { When } from '../home/when';
import { useTranslation } from '../words/words';

/** Browsers that are signed in and links that let others in. @param me the entry of this very browser */
export function AccessList({ entries, me }: { entries: readonly AccessEntry[]; me: string }) {
  return (
    <ul className="computer-list">
      {entries.map((entry) => (
        <Entry key={entry.id} entry={entry} mine={entry.id === me} />
      ))}
    </ul>
  );
}

function Entry({ entry, mine }: { entry: AccessEntry; mine: boolean }) {
  const { t } = useTranslation();
  const fetcher = useFetcher<{ message: string }>();
  const [asked, setAsked] = useState(false);
  const busy = fetcher.state !== 'idle';
  const revoke = () => {
    // This very browser would be sent out: asked once more.
    if (mine && !asked) return setAsked(true);
    void fetcher.submit({ intent: 'revoke', id: entry.id }, { method: 'post' });
  };
  const { createdMs, seenMs, expiresMs, usesLeft } = entry;
  const times = () =>
    [
      seenMs === null
        ? t('computer.made', { when: momentOf(createdMs) })
        : t('computer.seen', { when: momentOf(seenMs), since: momentOf(createdMs) }),
      ...(expiresMs === null ? [] : [t('computer.until', { when: momentOf(expiresMs) })]),
    ].join(' · ');
  return (
    <li className="computer-entry">
      <div>
        <div className="one-line">
          <b>{entry.name}</b>
          {mine && <span className="computer-mine"> · {t('computer.mine')}</span>}
        </div>
        <div className="computer-hint">
          {t(`computer.may.${entry.role}`)}
          {entry.kind === 'link' &&
            ` · ${usesLeft === null ? t('computer.link') : t('computer.linkLeft', { count: usesLeft })}`}
        </div>
        <div className="figure computer-hint">
          <When words={times} />
        </div>
        {fetcher.data && !busy && (
          <div role="alert" className="computer-problem">
            {fetcher.data.message}
          </div>
        )}
      </div>
      <Button
        onClick={revoke}
        disabled={busy}
        aria-label={t('computer.revokeOne', { name: entry.name })}
        className="raised danger"
      >
        {mine && asked ? t('computer.revokeMine') : t('computer.revoke')}
      </Button>
    </li>
  );
}
