import { redirect } from 'react-router';
import type { Route } from './+types/studio-home';

export function loader({ params }: Route.LoaderArgs) {
  return redirect(`/show/${params.showId}/stage`);
}
