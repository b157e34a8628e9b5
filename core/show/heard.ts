import type { ShowDocument } from './document';
import { inputsOfScene } from './inputs-shown';
import type { ChannelRecord } from './records';

/** Whether a channel is heard while a scene is on air in one of its poses (null: the first), its mute aside. */
export function heardIn(
  document: ShowDocument,
  channel: ChannelRecord,
  onAir: { sceneId: string; poseId: string | null } | null,
): boolean {
  if (channel.source.type === 'music' && !channel.source.playing) return false;
  switch (channel.heard) {
    case 'always':
      return true;
    case 'scenes':
      return onAir !== null && channel.sceneIds.includes(onAir.sceneId);
    case 'with-picture':
      return (
        onAir !== null &&
        channel.pictureInputId !== null &&
        inputsOfScene(document, onAir.sceneId, onAir.poseId).has(channel.pictureInputId)
      );
  }
}
