import { useState } from 'react';
import type { MicrophoneChannel } from '~/core/show/channels/microphone';
import { Toggle } from '../../studio/toggle';
import { useDesk } from '../../studio/studio-context';
import { useChannelEdit } from '../channel-edit';
import type { ChannelFieldsProps, ChannelPart } from '../channel-parts';
import { useTranslation } from '../../words/words';

export const part: ChannelPart<MicrophoneChannel> = { type: 'microphone', Fields: DeviceChoice };

/** Which microphone, and whether the browser may work on it. */
function DeviceChoice({ channel, source }: ChannelFieldsProps<MicrophoneChannel>) {
  const { t } = useTranslation();
  const { edit } = useChannelEdit(channel);
  const sound = useDesk((now) => now.sound);
  const [devices, setDevices] = useState<MediaDeviceInfo[] | null>(null);
  return (
    <>
      <select
        className="plain-select"
        aria-label={t('kinds.device')}
        value={source.deviceId}
        onFocus={() =>
          void navigator.mediaDevices
            .enumerateDevices()
            .then((all) => setDevices(all.filter((d) => d.kind === 'audioinput')))
        }
        onChange={(e) => {
          const device = devices?.find((d) => d.deviceId === e.target.value);
          edit(t('kinds.device'), {
            source: { ...source, deviceId: e.target.value, deviceLabel: device?.label || 'Microphone' },
          });
        }}
      >
        {!devices?.some((d) => d.deviceId === source.deviceId) && (
          <option value={source.deviceId}>{source.deviceLabel || 'Microphone'}</option>
        )}
        {devices?.map((d) => (
          <option key={d.deviceId} value={d.deviceId}>
            {d.label || 'Microphone'}
          </option>
        ))}
      </select>
      <Toggle
        label={t('kinds.theBrowserWorksOnIt')}
        on={source.processed}
        onChange={(processed) => edit(t('kinds.browserProcessing'), { source: { ...source, processed } })}
      />
      <p className="hint">
        {sound.problems.get(channel.id) ??
          'An interface or a virtual device has levels of its own: the fader here moves only what is sent from here.'}
      </p>
    </>
  );
}
