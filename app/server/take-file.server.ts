import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Fault } from '~/core/fault';
import { freeBytesOf } from '~/server/free-bytes';

/** What is brought in is there twice for a moment; a broadcast must still be recorded. */
const RESERVE_BYTES = 500 * 1024 * 1024;

/**
 * Lays a request's raw body on the disk for as long as something is done with it.
 * @throws Fault `archive.empty`, `archive.room`, and whatever `work` throws
 */
export async function withBody<T>(
  request: Request,
  dataFolder: string,
  work: (file: string) => Promise<T>,
): Promise<T> {
  const folder = path.join(dataFolder, 'scratch');
  const file = path.join(folder, `archive-${randomUUID()}.part`);
  try {
    const bytes = Number(request.headers.get('content-length'));
    const free = freeBytesOf(dataFolder);
    if (!request.body || !(bytes > 0)) throw new Fault('archive.empty', 'The file is empty: choose another.');
    if (free !== null && free - 2 * bytes < RESERVE_BYTES)
      throw new Fault('archive.room', 'There is no room on the disk for this file: make room first.');
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await pipeline(Readable.fromWeb(request.body as never), createWriteStream(file, { mode: 0o600 }));
    return await work(file);
  } finally {
    await rm(file, { force: true });
  }
}
