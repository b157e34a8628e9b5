import type { ToLiveAudience } from '../../protocol/engine';
import type { LiveAudience } from './live-audience';

const KINDS: Record<ToLiveAudience['type'], true> = {
  ...{ audience: true, book: true, moderation: true, viewers: true, readOut: true, ownPoll: true },
  ...{ alertOrder: true, keptAlerts: true, voices: true, broadcast: true, music: true },
};

/** Whether a message is about viewers, rather than about the picture. */
export const isForAudience = (message: { type: string }): message is ToLiveAudience =>
  Object.hasOwn(KINDS, message.type);

/** What viewers do, and what is done with it. @param now programme seconds */
export function tellAudience(audience: LiveAudience, message: ToLiveAudience, now: number): void {
  switch (message.type) {
    case 'audience':
      return audience.take(message.events, now, message.cameMs);
    case 'book':
      return audience.open(message.book, message.chat, now);
    case 'keptAlerts':
      return audience.restore(message.kept, now);
    case 'moderation':
      return audience.moderate(message.moderation);
    case 'viewers':
      return audience.setViewers(message.platform, message.viewers, now);
    case 'readOut':
      return audience.setReadOut(message.message, now);
    case 'ownPoll':
      return audience.setPoll(message.poll);
    case 'alertOrder':
      return audience.order(message.order, now);
    case 'voices':
      return audience.voices.set(message.voices);
    case 'music':
      return audience.setMusicEnd(message.endsAtMs, now);
    case 'broadcast':
      return audience.setBroadcast(message.sinceMs);
  }
}
