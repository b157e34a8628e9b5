import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useCallback, useEffect, useState } from 'react';
import { messageOf } from '~/core/fault';
import { useBus, useStudio } from '../studio/studio-context';
import { FieldHeading } from '../stage/field-layout';
import { order } from '../studio/order';
import { ChatServerDialog, type ChatServer } from './chat-server-dialog';

interface Sources {
  hooks: { id: string; name: string }[];
  /** The door, with `/` at its end; null while it is not connected. */
  hooksUrl: string | null;
  chatServers: ChatServer[];
}

/** Where events come from: platforms, chat servers, hooks; and what was refused. */
export function SourcesPanel() {
  const { showId, say } = useStudio();
  const platforms = useBus((now) => now.platforms);
  const services = useBus((now) => now.services);
  const rejections = useBus((now) => now.rejections);
  const [sources, setSources] = useState<Sources>({ hooks: [], hooksUrl: null, chatServers: [] });
  const [chat, setChat] = useState<ChatServer | 'new' | null>(null);
  const [secret, setSecret] = useState<{ name: string; id: string; secret: string } | null>(null);
  const [hookName, setHookName] = useState('');
  const url = `/show/${showId}/event-sources`;
  const load = useCallback(async () => {
    const response = await fetch(url);
    if (response.ok) setSources((await response.json()) as Sources);
  }, [url]);
  useEffect(() => void load().catch((error: unknown) => say(messageOf(error))), [load, say]);
  const act = async <T,>(body: object): Promise<T | null> => {
    try {
      const answer = await order<T>(url, body);
      await load();
      return answer;
    } catch (error) {
      say(messageOf(error));
      return null;
    }
  };
  const addHook = async () => {
    const made = await act<{ hook: { id: string; name: string }; secret: string }>({
      what: 'addHook',
      name: hookName,
    });
    if (!made) return;
    setHookName('');
    setSecret({ ...made.hook, secret: made.secret });
  };
  return (
    <div style={{ overflowY: 'auto', height: '100%' }}>
      <FieldHeading>Platforms</FieldHeading>
      {platforms.length === 0 && (
        <p style={{ color: 'var(--quiet)' }}>
          No platform is connected. The demonstration brings Larch, Cairn and Marmot.
        </p>
      )}
      {platforms.map((status, i) => {
        const watch = services.find((service) => service.id === status.platform);

        return (
          <div key={`${status.platform}-${i}`} className="source-row">
            <b>{status.by === 'irc' ? `${status.platform} · chat` : status.platform}</b>
            <span style={{ color: status.connected ? 'var(--moss)' : 'var(--rose)', flex: 1 }}>
              {status.connected ? status.message || 'connected' : status.message || 'connecting'}
            </span>
            {status.viewers !== null && <span className="figure">{status.viewers} watching</span>}
            {watch && status.by === 'events' && (
              <>
                {watch.watchUrl && (
                  <Button component="a" href={watch.watchUrl} target="_blank" rel="noopener">
                    Watch page
                  </Button>
                )}
                {watch.accountUrl && (
                  <Button component="a" href={watch.accountUrl} target="_blank" rel="noopener">
                    Account
                  </Button>
                )}
              </>
            )}
          </div>
        );
      })}
      <FieldHeading>Chat servers (IRC)</FieldHeading>
      {sources.chatServers.map((server) => (
        <div key={server.id} className="source-row">
          <b>{server.name}</b>
          <span className="one-line" style={{ color: 'var(--quiet)' }}>
            {`${server.host}:${server.port} · ${server.channels.join(' ')}`}
          </span>
          <Button onClick={() => setChat(server)}>Change</Button>
          <Button
            sx={{ color: 'var(--rose)' }}
            onClick={() => void act({ what: 'removeChat', id: server.id })}
          >
            Remove
          </Button>
        </div>
      ))}
      <Button onClick={() => setChat('new')}>Add a chat server…</Button>
      <FieldHeading>Webhooks: events from other programs</FieldHeading>
      {sources.hooks.map((hook) => (
        <div key={hook.id} className="source-row">
          <b>{hook.name}</b>
          <code className="one-line" style={{ fontSize: 12 }}>
            {sources.hooksUrl === null ? 'The door is not open yet' : `${sources.hooksUrl}hooks/${hook.id}`}
          </code>
          <Button
            onClick={() =>
              void act<{ secret: string }>({ what: 'renewHook', id: hook.id }).then(
                (made) => made && setSecret({ ...hook, secret: made.secret }),
              )
            }
          >
            New secret
          </Button>
          <Button sx={{ color: 'var(--rose)' }} onClick={() => void act({ what: 'removeHook', id: hook.id })}>
            Remove
          </Button>
        </div>
      ))}
      <div style={{ display: 'flex', gap: 6, marginTop: 4 }}>
        <TextField
          label="Name of the sender"
          value={hookName}
          onChange={(e) => setHookName(e.target.value.slice(0, 40))}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <Button disabled={hookName.trim() === ''} onClick={() => void addHook()}>
          Add webhook
        </Button>
      </div>
      <FieldHeading>Rejected events</FieldHeading>
      {rejections.length === 0 ? (
        <p style={{ color: 'var(--quiet)', margin: 0, fontSize: 13 }}>
          Nothing was refused since the studio started.
        </p>
      ) : (
        rejections.slice(0, 30).map((r) => (
          <div key={`${r.source}/${r.reason}`} className="source-row">
            <b className="figure">{r.count} ×</b>
            <span style={{ flex: 1, overflowWrap: 'anywhere', fontSize: 13 }}>
              {r.source}: {r.reason}
            </span>
          </div>
        ))
      )}
      <Dialog open={secret !== null} onClose={() => setSecret(null)}>
        <DialogTitle sx={{ fontSize: 16 }}>{`Secret of ${secret?.name ?? ''}`}</DialogTitle>
        <DialogContent>
          <p style={{ marginTop: 0, lineHeight: 1.5 }}>
            Shown this once. Copy it into the program that sends, which signs each call with it (Standard
            Webhooks).
          </p>
          <code
            style={{
              display: 'block',
              overflowWrap: 'anywhere',
              background: 'var(--ground)',
              padding: 10,
              borderRadius: 6,
            }}
          >
            {secret?.secret}
          </code>
        </DialogContent>
        <DialogActions>
          <Button
            onClick={() =>
              void navigator.clipboard.writeText(secret?.secret ?? '').then(() => say('Copied.'))
            }
          >
            Copy
          </Button>
          <Button variant="contained" onClick={() => setSecret(null)}>
            I have it
          </Button>
        </DialogActions>
      </Dialog>
      {chat && (
        <ChatServerDialog
          server={chat === 'new' ? null : chat}
          onKeep={async (server) => (await act({ what: 'putChat', ...server })) !== null}
          onClose={() => setChat(null)}
        />
      )}
    </div>
  );
}
