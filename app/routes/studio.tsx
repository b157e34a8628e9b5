import { lazy, Suspense, useEffect, useState } from 'react';
import { faultResponse, studioOf } from '../server/context.server';
import { studioData } from '../server/studio-data.server';
import { OpeningScreen } from '../studio/opening-screen';
import type { Route } from './+types/studio';

export function loader({ params, context }: Route.LoaderArgs) {
  try {
    return studioData(studioOf(context), params.showId);
  } catch (error) {
    throw faultResponse(error);
  }
}

/** The page holds the show from here on: loading it again under a running desk would only lose what is not saved yet. */
export const shouldRevalidate = () => false;

export function meta({ loaderData }: Route.MetaArgs) {
  return [{ title: `${loaderData?.records.find((r) => r.kind === 'show')?.name ?? 'Show'} · Dolomite` }];
}

// The studio needs workers, canvases and sound: it exists in the browser only. Fetched at once, not after hydration.
const shell = import.meta.env.SSR ? null : import('../studio/studio-shell.client');
const StudioShell = lazy(() =>
  (shell ?? import('../studio/studio-shell.client')).then((m) => ({ default: m.StudioShell })),
);

export default function StudioRoute({ loaderData }: Route.ComponentProps) {
  const [inBrowser, setInBrowser] = useState(false);
  useEffect(() => setInBrowser(true), []);
  const show = loaderData.records.find((r) => r.kind === 'show')?.name ?? '';
  if (!inBrowser) return <OpeningScreen show={show} />;
  return (
    <Suspense fallback={<OpeningScreen show={show} />}>
      <StudioShell data={loaderData} />
    </Suspense>
  );
}
