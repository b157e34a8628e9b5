import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useForm, useWatch } from 'react-hook-form';
import type { ChatServer } from '~/server/audience/irc-client';
import { FormField } from '../studio/form-field';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';

/** As it goes to the server; null keeps the password there is. */
export type ChatServerOrder = Omit<ChatServer, 'id'> & { id: string | null; password: string | null };

interface Fields {
  name: string;
  host: string;
  port: string;
  tls: boolean;
  nick: string;
  channels: string;
  password: string;
}
const NEW: Fields = {
  ...{ name: '', host: '', port: '6697', tls: true, nick: 'studio', channels: '#', password: '' },
};

const channelsIn = (text: string): string[] => text.split(/[\s,]+/).filter(Boolean);

/**
 * A chat server that is not a platform's own.
 * @param server null for a new one
 * @param onKeep resolves to whether it was taken; why not has been said then
 */
export function ChatServerDialog({
  server,
  onKeep,
  onClose,
}: {
  server: ChatServer | null;
  onKeep: (order: ChatServerOrder) => Promise<boolean>;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const { control, handleSubmit, setValue, formState } = useForm<Fields>({
    mode: 'onTouched',
    defaultValues: server
      ? { ...server, port: String(server.port), channels: server.channels.join(' '), password: '' }
      : NEW,
  });
  const tls = useWatch({ control, name: 'tls' });
  const keep = handleSubmit(async ({ port, channels, password, ...rest }) => {
    const kept = await onKeep({
      ...rest,
      id: server?.id ?? null,
      port: Number(port),
      channels: channelsIn(channels),
      password: password === '' && server ? null : password,
    });
    if (kept) onClose();
  });
  const required = t('chatServer.required');
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="chat-server-title">
      <form onSubmit={(event) => void keep(event)} noValidate>
        <DialogTitle id="chat-server-title">{t('chatServer.title')}</DialogTitle>
        <DialogContent className="computer-fields">
          <FormField
            control={control}
            name="name"
            autoFocus
            label={t('chatServer.name')}
            rules={{ required, maxLength: { value: 40, message: t('chatServer.nameLong') } }}
          />
          <FormField
            control={control}
            name="host"
            label={t('chatServer.host')}
            rules={{
              required,
              pattern: { value: /^[A-Za-z0-9.:-]{1,200}$/, message: t('chatServer.hostWrong') },
            }}
          />
          <FormField
            control={control}
            name="port"
            label={t('chatServer.port')}
            inputMode="numeric"
            rules={{
              required,
              validate: (text) =>
                (/^\d{1,5}$/.test(String(text)) && Number(text) > 0 && Number(text) <= 65_535) ||
                t('chatServer.portWrong'),
            }}
          />
          <Toggle
            label={t('chatServer.tls')}
            on={tls}
            onChange={(on) => setValue('tls', on, { shouldDirty: true })}
          />
          <FormField
            control={control}
            name="nick"
            label={t('chatServer.nick')}
            rules={{
              required,
              pattern: {
                value: /^[A-Za-z[\]\\`_^{|}][\w[\]\\`^{|}-]{0,29}$/,
                message: t('chatServer.nickWrong'),
              },
            }}
          />
          <FormField
            control={control}
            name="channels"
            label={t('chatServer.channels')}
            help={t('chatServer.channelsHint')}
            rules={{
              required,
              validate: (text) =>
                channelsIn(String(text)).every((one) => /^[#&][^\s,]{1,60}$/.test(one)) ||
                t('chatServer.channelsWrong'),
            }}
          />
          <FormField
            control={control}
            name="password"
            type="password"
            autoComplete="off"
            label={t(server ? 'chatServer.newPassword' : 'chatServer.password')}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{t('chatServer.cancel')}</Button>
          <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
            {t('chatServer.connect')}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
