import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect, useState } from 'react';
import { Form, useNavigation, useRevalidator } from 'react-router';
import { studioOf } from '../server/context.server';
import { Panel } from '../studio/panel';
import { useBus } from '../studio/studio-context';
import type { Route } from './+types/vault';

export async function loader({ params, context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  await studio.recordings.scan(params.showId, studio.broadcast.status?.session?.recording?.files ?? []);
  return { recordings: studio.recordings.list(params.showId) };
}

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const id = form.get('id');
  if (form.get('intent') !== 'delete' || typeof id !== 'string')
    return Response.json({ message: 'unknown intent' }, { status: 400 });
  studioOf(context).recordings.remove(id);
  return { deleted: id };
}

const DATE = new Intl.DateTimeFormat('en-GB', {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});

function length(seconds: number): string {
  const s = Math.round(seconds);
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`;
}

export default function Vault({ loaderData }: Route.ComponentProps) {
  const { recordings } = loaderData;
  const { broadcast, relay } = useBus();
  const { revalidate } = useRevalidator();
  const [chosen, setChosen] = useState<string | null>(null);
  const [deleting, setDeleting] = useState<string | null>(null);
  const navigation = useNavigation();
  // A broadcast that has ended has left a recording.
  useEffect(() => {
    if (broadcast.state === 'off') void revalidate();
  }, [broadcast.state, revalidate]);
  const current = recordings.find((r) => r.id === chosen) ?? recordings[0] ?? null;
  const running = relay?.session?.recording ?? null;
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.4fr)',
        gap: 12,
        height: '100%',
      }}
    >
      <Panel
        title="Recordings"
        label="Recordings"
        aside={
          <span className="figure" style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
            {`${recordings.length} ${recordings.length === 1 ? 'file' : 'files'}`}
          </span>
        }
      >
        {running && (
          <p
            style={{
              margin: '0 0 10px',
              padding: '8px 12px',
              borderRadius: 6,
              background: 'var(--raised)',
              borderLeft: `4px solid ${running.message ? 'var(--rose)' : 'var(--ember)'}`,
              lineHeight: 1.4,
            }}
          >
            {running.message || (
              <>
                Recording now: <span className="figure">{length(running.seconds)}</span>,{' '}
                <span className="figure">{(running.bytes / 1e6).toFixed(1)} MB</span>. It is listed when the
                broadcast ends.
              </>
            )}
          </p>
        )}
        {recordings.length === 0 && !running && (
          <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>
            Every broadcast is recorded, as it is sent, and kept here. Go live to make the first one.
          </p>
        )}
        {recordings.map((recording) => {
          const selected = recording.id === current?.id;
          return (
            <button
              key={recording.id}
              type="button"
              aria-pressed={selected}
              onClick={() => setChosen(recording.id)}
              style={{
                display: 'flex',
                width: '100%',
                justifyContent: 'space-between',
                gap: 10,
                alignItems: 'baseline',
                padding: '10px 12px',
                marginBottom: 5,
                border: 0,
                borderRadius: 8,
                cursor: 'pointer',
                textAlign: 'left',
                font: 'inherit',
                color: 'var(--text)',
                background: 'var(--raised)',
                boxShadow: selected ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
              }}
            >
              <span>
                {DATE.format(recording.startedMs)}
                {recording.note && (
                  <span style={{ display: 'block', color: 'var(--rose)', fontSize: 12 }}>
                    {recording.note}
                  </span>
                )}
              </span>
              <span
                className="figure"
                style={{ color: 'var(--quiet)', fontSize: 12.5, whiteSpace: 'nowrap' }}
              >
                {length(recording.seconds)} · {(recording.bytes / 1e6).toFixed(1)} MB
              </span>
            </button>
          );
        })}
      </Panel>
      <Panel title={current ? DATE.format(current.startedMs) : 'Player'} label="Player">
        {current ? (
          <>
            <video
              key={current.id}
              controls
              preload="metadata"
              src={`/files/recordings/${current.id}`}
              style={{ width: '100%', aspectRatio: '16 / 9', background: '#000', borderRadius: 6 }}
            />
            <div style={{ display: 'flex', gap: 8, marginTop: 12, alignItems: 'center' }}>
              <Button
                component="a"
                href={`/files/recordings/${current.id}?download`}
                sx={{ color: 'var(--glacier)' }}
              >
                Download
              </Button>
              <Button onClick={() => setDeleting(current.id)}>Delete…</Button>
              <span style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
                Matroska, H.264 and AAC, exactly as it was sent
              </span>
            </div>
          </>
        ) : (
          <p style={{ color: 'var(--quiet)' }}>Choose a recording to play it here.</p>
        )}
      </Panel>
      <Dialog open={deleting !== null} onClose={() => setDeleting(null)} aria-labelledby="delete-title">
        <DialogTitle id="delete-title">Delete this recording?</DialogTitle>
        <DialogContent>The file is removed from the disk. This cannot be undone.</DialogContent>
        <DialogActions>
          <Button onClick={() => setDeleting(null)} autoFocus>
            Keep it
          </Button>
          <Form method="post" onSubmit={() => setDeleting(null)}>
            <input type="hidden" name="intent" value="delete" />
            <input type="hidden" name="id" value={deleting ?? ''} />
            <Button type="submit" disabled={navigation.state !== 'idle'} sx={{ color: 'var(--rose)' }}>
              Delete
            </Button>
          </Form>
        </DialogActions>
      </Dialog>
    </div>
  );
}
