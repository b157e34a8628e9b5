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
import type { ChatServer } from '~/server/audience/irc-client';
import { ChatServerDialog } from './chat-server-dialog';
import { useTranslation } from '../words/words';

interface Sources {
  hooks: { id: string; name: string }[];
  /** The door, with `/` at its end; null while it is not connected. */
  hooksUrl: string | null;
  chatServers: ChatServer[];
}

/** Where events come from: platforms, chat servers, hooks; and what was refused. */
export function SourcesPanel() {
  const { t } = useTranslation();
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
      <FieldHeading>{t('audience.platforms')}</FieldHeading>
      {platforms.length === 0 && (
        <p style={{ color: 'var(--quiet)' }}>{t('audience.noPlatformIsConnectedThe')}</p>
      )}
      {platforms.map((status, i) => {
        const watch = services.find((service) => service.id === status.platform);

        return (
          <div key={`${status.platform}-${i}`} className="source-row">
            <b>
              {status.by === 'irc'
                ? t('audience.platformChat', { platform: status.platform })
                : status.platform}
            </b>
            <span style={{ color: status.connected ? 'var(--moss)' : 'var(--rose)', flex: 1 }}>
              {status.connected
                ? status.message || t('audience.connected')
                : status.message || t('audience.connecting')}
            </span>
            {status.viewers !== null && (
              <span className="figure">{t('audience.watching', { viewers: status.viewers })}</span>
            )}
            {watch && status.by === 'events' && (
              <>
                {watch.watchUrl && (
                  <Button component="a" href={watch.watchUrl} target="_blank" rel="noopener">
                    {t('audience.watchPage')}
                  </Button>
                )}
                {watch.accountUrl && (
                  <Button component="a" href={watch.accountUrl} target="_blank" rel="noopener">
                    {t('audience.account')}
                  </Button>
                )}
              </>
            )}
          </div>
        );
      })}
      <FieldHeading>{t('audience.chatServersIrc')}</FieldHeading>
      {sources.chatServers.map((server) => (
        <div key={server.id} className="source-row">
          <b>{server.name}</b>
          <span className="one-line" style={{ color: 'var(--quiet)' }}>
            {`${server.host}:${server.port} · ${server.channels.join(' ')}`}
          </span>
          <Button onClick={() => setChat(server)}>{t('audience.change')}</Button>
          <Button
            sx={{ color: 'var(--rose)' }}
            onClick={() => void act({ what: 'removeChat', id: server.id })}
          >
            {t('audience.remove')}
          </Button>
        </div>
      ))}
      <Button onClick={() => setChat('new')}>{t('audience.addAChatServer')}</Button>
      <FieldHeading>{t('audience.webhooksEventsFromOtherPrograms')}</FieldHeading>
      {sources.hooks.map((hook) => (
        <div key={hook.id} className="source-row">
          <b>{hook.name}</b>
          <code className="one-line" style={{ fontSize: 12 }}>
            {sources.hooksUrl === null
              ? t('audience.theDoorIsNotOpen')
              : t('audience.hooksurlHooksId', { hooksUrl: sources.hooksUrl, id: hook.id })}
          </code>
          <Button
            onClick={() =>
              void act<{ secret: string }>({ what: 'renewHook', id: hook.id }).then(
                (made) => made && setSecret({ ...hook, secret: made.secret }),
              )
            }
          >
            {t('audience.newSecret')}
          </Button>
          <Button sx={{ color: 'var(--rose)' }} onClick={() => void act({ what: 'removeHook', id: hook.id })}>
            {t('audience.remove')}
          </Button>
        </div>
      ))}
      <div style={{ display: 'flex', gap: 6, marginTop: 4 }}>
        <TextField
          label={t('audience.nameOfTheSender')}
          value={hookName}
          onChange={(e) => setHookName(e.target.value.slice(0, 40))}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <Button disabled={hookName.trim() === ''} onClick={() => void addHook()}>
          {t('audience.addWebhook')}
        </Button>
      </div>
      <FieldHeading>{t('audience.rejectedEvents')}</FieldHeading>
      {rejections.length === 0 ? (
        <p style={{ color: 'var(--quiet)', margin: 0, fontSize: 13 }}>
          {t('audience.nothingWasRefusedSinceThe')}
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
          <p style={{ marginTop: 0, lineHeight: 1.5 }}>{t('audience.shownThisOnceCopyIt')}</p>
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
              void navigator.clipboard.writeText(secret?.secret ?? '').then(() => say(t('audience.copied')))
            }
          >
            {t('audience.copy')}
          </Button>
          <Button variant="contained" onClick={() => setSecret(null)}>
            {t('audience.iHaveIt')}
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
