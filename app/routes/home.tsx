import { redirect } from 'react-router';
import { studioOf } from '../server/context.server';
import type { Route } from './+types/home';

export function loader({ context }: Route.LoaderArgs) {
  const [show] = studioOf(context).shows.list();
  if (!show)
    throw new Response('There is no show yet. Start with "npm run demo" to get one.', { status: 404 });
  return redirect(`/show/${show.id}/stage`);
}
