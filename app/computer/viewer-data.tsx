import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import type { FoundViewer, ViewerDataFacts } from '~/server/audience/viewer-data';
import { DAY, NUMBER } from './format';

const KEPT: readonly (readonly [days: number, words: string])[] = [
  [30, '30 days'],
  [90, '90 days'],
  [365, '1 year'],
  [1095, '3 years'],
  [0, 'As long as the studio'],
];

type Answer = { found?: FoundViewer[]; message?: string };

/** What is kept of viewers: for how long, and everything of one of them. */
export function ViewerDataPanel({ facts }: { facts: ViewerDataFacts }) {
  const keeping = useFetcher<Answer>();
  const finding = useFetcher<Answer>();
  const [letters, setLetters] = useState('');
  const { entries, notes, oldestMs, keepDays } = facts;
  const choices = KEPT.some(([days]) => days === keepDays)
    ? KEPT
    : ([...KEPT, [keepDays, `${keepDays} days`]] as const);
  const found = finding.data?.found ?? null;
  return (
    <>
      <p style={{ color: 'var(--quiet)', margin: '0 0 10px', lineHeight: 1.45 }}>
        {entries === 0
          ? 'Nothing is kept of viewers yet.'
          : `${NUMBER.format(entries)} messages and events${notes > 0 ? ` and ${NUMBER.format(notes)} notes` : ''} are kept${oldestMs === null ? '' : `, the oldest from ${DAY.format(oldestMs)}`}.`}
      </p>
      <TextField
        select
        size="small"
        label="Keep for"
        value={keepDays}
        onChange={(e) => void keeping.submit({ intent: 'keepFor', days: e.target.value }, { method: 'post' })}
        helperText="Older entries are deleted. A change counts after an hour."
        sx={{ minWidth: 220, mt: 0.5 }}
      >
        {choices.map(([days, words]) => (
          <MenuItem key={days} value={days}>
            {words}
          </MenuItem>
        ))}
      </TextField>
      <finding.Form
        method="post"
        style={{ display: 'flex', gap: 8, alignItems: 'center', margin: '16px 0 8px' }}
      >
        <input type="hidden" name="intent" value="find" />
        <TextField
          name="letters"
          size="small"
          label="Find a viewer"
          value={letters}
          onChange={(e) => setLetters(e.target.value)}
          sx={{ flex: 1 }}
        />
        <Button type="submit" disabled={letters.trim() === ''} sx={{ bgcolor: 'var(--raised)' }}>
          Find
        </Button>
      </finding.Form>
      <div role="status" style={{ color: 'var(--quiet)', fontSize: 13, minHeight: 20 }}>
        {finding.data?.message ??
          (found === null ? '' : found.length === 0 ? 'Nobody of this name is kept.' : '')}
      </div>
      <ul style={{ listStyle: 'none', margin: 0, padding: 0 }} aria-label="Viewers found">
        {found?.map((viewer) => (
          <Viewer key={`${viewer.platform}/${viewer.viewer}`} viewer={viewer} />
        ))}
      </ul>
    </>
  );
}

function Viewer({ viewer: { platform, viewer, entries, lastMs } }: { viewer: FoundViewer }) {
  const fetcher = useFetcher<Answer>();
  const [asked, setAsked] = useState(false);
  const gone = fetcher.data?.message;
  const forget = () => {
    // It cannot be undone: asked once more.
    if (!asked) return setAsked(true);
    void fetcher.submit({ intent: 'forget', platform, viewer }, { method: 'post' });
  };
  return (
    <li
      style={{
        ...{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto auto', gap: 8, alignItems: 'center' },
        ...{ padding: '7px 0', borderBottom: '1px solid var(--line)' },
      }}
    >
      <div style={{ minWidth: 0 }}>
        <div style={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {viewer}
          <span style={{ color: 'var(--quiet)', fontWeight: 400 }}> · {platform}</span>
        </div>
        <div style={{ color: 'var(--quiet)', fontSize: 13 }}>
          {gone ?? `${NUMBER.format(entries)} kept${lastMs === null ? '' : `, last ${DAY.format(lastMs)}`}`}
        </div>
      </div>
      <Button
        component="a"
        href={`/computer/viewer?${new URLSearchParams({ platform, viewer }).toString()}`}
        download
        aria-label={`Export everything of ${viewer} on ${platform}`}
        sx={{ bgcolor: 'var(--raised)' }}
      >
        Export
      </Button>
      <Button
        onClick={forget}
        disabled={fetcher.state !== 'idle' || gone !== undefined}
        aria-label={`Delete everything of ${viewer} on ${platform}`}
        sx={{ color: 'var(--rose)', bgcolor: 'var(--raised)', minWidth: 108 }}
      >
        {asked ? 'Delete all?' : 'Delete'}
      </Button>
    </li>
  );
}
