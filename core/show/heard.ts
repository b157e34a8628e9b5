import type { ShowDocument } from './document';
import { inputsOfScene } from './layers';
import type { ChannelRecord } from './records';

/** Whether a channel is heard while a scene is on air, its mute aside. */
export function heardIn(document: ShowDocument, channel: ChannelRecord, sceneId: string | null): boolean {
  if (channel.source.type === 'music' && !channel.source.playing) return false;
  switch (channel.heard) {
    case 'always':
      return true;
    case 'scenes':
      return sceneId !== null && channel.sceneIds.includes(sceneId);
    case 'with-picture':
      return (
        sceneId !== null &&
        channel.pictureInputId !== null &&
        inputsOfScene(document, sceneId).has(channel.pictureInputId)
      );
  }
}
