import Button from '@mui/material/Button';
import { findRecord } from '~/core/show/document';
import { explainEcho } from '~/core/sound/analysis/echo-finder';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** Names an echo that was found, and offers what this program can do about it. */
export function EchoNotice() {
  const { t } = useTranslation();
  const { desk, store } = useStudio();
  const echo = useDesk((now) => now.echo);
  const sound = useDesk((now) => now.sound);
  const document = useDocument();
  if (!echo) return null;
  const channel = findRecord(document, 'channel', echo.channelId);
  const { what, cure } = explainEcho(echo);
  const monitor = sound.switches.monitor;
  return (
    <div role="alert" className="notice" data-testid="echo">
      <div style={{ flex: 1 }}>
        <b>{what}.</b> {cure}
      </div>
      {echo.kind === 'monitor' && channel && channel.monitor !== 'off' && (
        <Button
          size="small"
          onClick={() =>
            store.edit(t('sound.monitorOfNameOff', { name: channel.name }), [{ ...channel, monitor: 'off' }])
          }
        >
          {t('sound.takeItOutOfThe')}
        </Button>
      )}
      {echo.kind !== 'tab' && monitor.deviceId !== null && (
        <Button
          size="small"
          onClick={() => desk.sound.setSwitches({ monitor: { ...monitor, deviceId: null } })}
        >
          {t('sound.headphonesOff')}
        </Button>
      )}
      {channel && !channel.muted && (
        <Button
          size="small"
          onClick={() =>
            store.edit(t('sound.muteName', { name: channel.name }), [{ ...channel, muted: true }])
          }
        >
          {t('sound.muteName', { name: channel.name })}
        </Button>
      )}
    </div>
  );
}
