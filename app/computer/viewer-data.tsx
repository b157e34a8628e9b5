import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import type { FoundViewer, ViewerDataFacts } from '~/server/audience/viewer-data';
import { dayOf } from '../home/format';
import { When } from '../home/when';
import { useTranslation } from '../words/words';

/** 0 for as long as the studio. */
const KEPT_DAYS = [30, 90, 365, 1095, 0] as const;

type Answer = { found?: FoundViewer[]; message?: string };

/** What is kept of viewers: for how long, and everything of one of them. */
export function ViewerDataPanel({ facts }: { facts: ViewerDataFacts }) {
  const { t } = useTranslation();
  const keeping = useFetcher<Answer>();
  const finding = useFetcher<Answer>();
  const [letters, setLetters] = useState('');
  const { entries, notes, oldestMs, keepDays } = facts;
  const choices: readonly number[] = KEPT_DAYS.some((days) => days === keepDays)
    ? KEPT_DAYS
    : [...KEPT_DAYS, keepDays];
  const found = finding.data?.found ?? null;
  return (
    <>
      <p className="computer-hint">
        {entries === 0
          ? t('computer.nothingKept')
          : `${t('computer.entriesKept', { count: entries })} ${notes > 0 ? t('computer.notesKept', { count: notes }) : ''} `}
        {entries > 0 && oldestMs !== null && (
          <When words={() => t('computer.oldest', { when: dayOf(oldestMs) })} />
        )}
      </p>
      <TextField
        select
        label={t('computer.keepFor')}
        value={keepDays}
        onChange={(e) => void keeping.submit({ intent: 'keepFor', days: e.target.value }, { method: 'post' })}
        helperText={t('computer.keepForHint')}
        className="computer-keep"
      >
        {choices.map((days) => (
          <MenuItem key={days} value={days}>
            {days === 0 ? t('computer.keepAlways') : t('computer.days', { count: days })}
          </MenuItem>
        ))}
      </TextField>
      <finding.Form method="post" className="door-pair">
        <input type="hidden" name="intent" value="find" />
        <TextField
          name="letters"
          label={t('computer.findViewer')}
          value={letters}
          onChange={(e) => setLetters(e.target.value)}
        />
        <Button type="submit" disabled={letters.trim() === ''} className="raised">
          {t('computer.find')}
        </Button>
      </finding.Form>
      <div role="status" className="computer-hint">
        {finding.data?.message ?? (found?.length === 0 ? t('computer.nobodyFound') : '')}
      </div>
      <ul className="computer-list" aria-label={t('computer.viewersFound')}>
        {found?.map((viewer) => (
          <Viewer key={`${viewer.platform}/${viewer.viewer}`} viewer={viewer} />
        ))}
      </ul>
    </>
  );
}

function Viewer({ viewer: { platform, viewer, entries, lastMs } }: { viewer: FoundViewer }) {
  const { t } = useTranslation();
  const fetcher = useFetcher<Answer>();
  const [asked, setAsked] = useState(false);
  const gone = fetcher.data?.message;
  const forget = () => {
    // It cannot be undone: asked once more.
    if (!asked) return setAsked(true);
    void fetcher.submit({ intent: 'forget', platform, viewer }, { method: 'post' });
  };
  return (
    <li className="computer-entry viewer">
      <div>
        <div className="one-line">
          <b>{viewer}</b>
          <span className="computer-hint"> · {platform}</span>
        </div>
        <div className="computer-hint">
          {gone ?? t('computer.viewerKept', { count: entries })}
          {gone === undefined && lastMs !== null && (
            <When words={() => ` ${t('computer.viewerLast', { when: dayOf(lastMs) })}`} />
          )}
        </div>
      </div>
      <Button
        component="a"
        href={`/computer/viewer?${new URLSearchParams({ platform, viewer }).toString()}`}
        download
        aria-label={t('computer.exportOne', { viewer, platform })}
        className="raised"
      >
        {t('computer.export')}
      </Button>
      <Button
        onClick={forget}
        disabled={fetcher.state !== 'idle' || gone !== undefined}
        aria-label={t('computer.deleteOne', { viewer, platform })}
        className="raised danger"
      >
        {asked ? t('computer.deleteAll') : t('computer.delete')}
      </Button>
    </li>
  );
}
