import { randomUUID } from 'node:crypto';
import type { FrameName } from '../../core/delivery/settings';
import { recordsOf } from '../../core/show/document';
import type { KeptFile } from '../../protocol/relay-orders';
import type { LateWrites } from '../db/late-writes';
import type { ShowRepository } from '../db/show-repository';
import type { EveningLog } from '../vault/evening-log';
import type { RecordingRepository } from '../vault/recording-repository';
import type { RelayClient } from './relay-client';

export type KeepAsked = [
  fromSecondsAgo: number,
  toSecondsAgo: number,
  frames: FrameName[],
  /** As the host calls it; empty for none. */
  title: string,
];

/** Name of a clip that was kept, without what file systems do not take. */
const clipName = (showName: string, nowMs: number) =>
  `Clip ${new Date(nowMs).toISOString().slice(0, 19).replace('T', ' ').replaceAll(':', '-')} ${showName}`.replace(
    /[/\\:*?"<>|]/g,
    ' ',
  );

/**
 * Saves the last seconds of a broadcast as files, and enters them in the Vault and the evening.
 * @throws Fault `relay.refused` with what to do
 */
export async function keepClips(
  parts: {
    relay: RelayClient;
    recordings: RecordingRepository;
    evening: EveningLog;
    writes: Pick<LateWrites, 'do'>;
    shows: ShowRepository;
    now: () => number;
  },
  showId: string,
  [fromSecondsAgo, toSecondsAgo, frames, title]: KeepAsked,
): Promise<KeptFile[]> {
  const { recordings, evening, writes, relay, shows, now } = parts;
  const name = recordsOf(shows.document(showId), 'show')[0]?.name ?? '';
  const folder = recordings.place.usable;
  const askedMs = now();
  const { files } = await relay.keep({
    fromSecondsAgo,
    toSecondsAgo,
    frames,
    folder,
    name: clipName(name, askedMs),
  });
  for (const { file, seconds, bytes, frame, beganSecondsAgo } of files) {
    const facts = {
      id: randomUUID(),
      showId,
      folder: recordings.folderOf(folder),
      file,
      startedMs: Math.round(askedMs - beganSecondsAgo * 1000),
      seconds,
      bytes,
      note: '',
      kind: 'clip' as const,
      title: title && frame === 'tall' ? `${title}, tall` : title,
      madeFrom: null,
      eveningId: evening.id,
    };
    writes.do(() => recordings.enter(facts));
    evening.moment({ kind: 'clip', file, seconds });
  }
  return files;
}
