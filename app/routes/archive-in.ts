import { randomUUID } from 'node:crypto';
import { Fault } from '~/core/fault';
import { readArchive } from '~/server/archive/read-archive';
import { faultResponse, studioOf } from '../server/context.server';
import { withBody } from '../server/take-file.server';
import type { Route } from './+types/archive-in';

/** Brings a show in from an archive: the raw body; a passphrase for its keys comes in a header. */
export async function action({ request, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  try {
    const passphrase = decodeURIComponent(request.headers.get('x-passphrase') ?? '');
    return await withBody(request, studio.dataFolder, async (file) => {
      const showId = randomUUID();
      const free = (name: string) => studio.keeper.free(name);
      const read = await readArchive(file, studio.assets, showId, free, passphrase, Date.now());
      studio.keeper.bringIn(showId, read);
      return Response.json({ showId, lockedKeys: read.lockedKeys, missing: read.missing });
    });
  } catch (error) {
    return faultResponse(
      error instanceof URIError ? new Fault('archive.passphrase', 'The passphrase cannot be read.') : error,
    );
  }
}
