import type { ChannelKind } from '../channel-kind';
import { flag, words } from '../shape';

/** `processed`: the browser's own echo cancelling, noise suppression and gain control are on. */
export interface MicrophoneChannel {
  type: 'microphone';
  deviceId: string;
  deviceLabel: string;
  processed: boolean;
}

export const microphone: ChannelKind<MicrophoneChannel> = {
  name: 'Microphone',
  shape: { deviceId: words(200), deviceLabel: words(200), processed: flag },
  spoken: true,
};
