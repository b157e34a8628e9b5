import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Fault } from '~/core/fault';
import { readArchive } from '~/server/archive/read-archive';
import { freeBytesOf } from '~/server/free-bytes';
import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/archive-in';

/** What is brought in is there twice for a moment; a broadcast must still be recorded. */
const RESERVE_BYTES = 500 * 1024 * 1024;

/** Brings a show in from an archive: the raw body; a passphrase for its keys comes in a header. */
export async function action({ request, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const folder = path.join(studio.dataFolder, 'scratch');
  const file = path.join(folder, `archive-${randomUUID()}.part`);
  try {
    const bytes = Number(request.headers.get('content-length'));
    const free = freeBytesOf(studio.dataFolder);
    if (!request.body || !(bytes > 0)) throw new Fault('archive.empty', 'The file is empty: choose another.');
    if (free !== null && free - 2 * bytes < RESERVE_BYTES)
      throw new Fault('archive.room', 'There is no room on the disk for this archive: make room first.');
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await pipeline(Readable.fromWeb(request.body as never), createWriteStream(file, { mode: 0o600 }));
    const showId = randomUUID();
    const read = await readArchive(
      file,
      studio.assets,
      showId,
      (name) => studio.keeper.free(name),
      decodeURIComponent(request.headers.get('x-passphrase') ?? ''),
      Date.now(),
    );
    studio.keeper.bringIn(showId, read);
    return Response.json({ showId, lockedKeys: read.lockedKeys, missing: read.missing });
  } catch (error) {
    return faultResponse(
      error instanceof URIError ? new Fault('archive.passphrase', 'The passphrase cannot be read.') : error,
    );
  } finally {
    await rm(file, { force: true });
  }
}
