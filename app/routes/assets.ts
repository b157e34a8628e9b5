import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/assets';

/** Takes a file in as the raw body; its name comes in a header, since only the bytes are trusted. */
export async function action({ request, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  if (!request.body)
    return Response.json(
      { code: 'asset.empty', message: 'the file is empty: choose another' },
      { status: 400 },
    );
  let name = 'file';
  try {
    name = decodeURIComponent(request.headers.get('x-file-name') ?? 'file');
  } catch {
    // a name that cannot be read is no reason to refuse the file
  }
  try {
    return Response.json(
      await studio.assets.add(
        name,
        request.body as unknown as AsyncIterable<Uint8Array>,
        Date.now(),
        Number(request.headers.get('content-length')) || null,
      ),
    );
  } catch (fault) {
    return faultResponse(fault);
  }
}
