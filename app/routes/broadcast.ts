import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/broadcast';

/** intent=start | stop | retry (one destination, after it refused) */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const form = await request.formData();
  try {
    switch (form.get('intent')) {
      case 'start':
        await studio.broadcast.start(
          params.showId,
          request.headers.get('origin') ?? new URL(request.url).origin,
        );
        return Response.json({ broadcast: studio.broadcast.state });
      case 'stop':
        await studio.broadcast.stop();
        return Response.json({ broadcast: studio.broadcast.state });
      case 'retry':
        await studio.broadcast.destinationChanged(params.showId, String(form.get('destinationId')));
        return Response.json({ broadcast: studio.broadcast.state });
      default:
        return Response.json({ message: 'unknown intent' }, { status: 400 });
    }
  } catch (fault) {
    return faultResponse(fault);
  }
}
