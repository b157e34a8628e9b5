import { index, route, type RouteConfig } from '@react-router/dev/routes';

export default [
  index('routes/home.tsx'),
  route('show/:showId', 'routes/studio.tsx', [
    index('routes/studio-home.tsx'),
    route('stage', 'routes/stage.tsx'),
    route('sound', 'routes/sound.tsx'),
    route('audience', 'routes/audience.tsx'),
    route('delivery', 'routes/delivery.tsx'),
    route('air', 'routes/air.tsx'),
    route('vault', 'routes/vault.tsx'),
  ]),
  route('show/:showId/edits', 'routes/edits.ts'),
  route('show/:showId/assets', 'routes/assets.ts'),
  route('show/:showId/keys', 'routes/keys.ts'),
  route('show/:showId/broadcast', 'routes/broadcast.ts'),
  route('show/:showId/preflight-facts', 'routes/preflight-facts.ts'),
  route('show/:showId/recording-folder', 'routes/recording-folder.ts'),
  route('show/:showId/line-test', 'routes/line-test.ts'),
  route('show/:showId/accounts', 'routes/accounts.ts'),
  route('show/:showId/announce', 'routes/announce.ts'),
  route('show/:showId/input-address', 'routes/input-address.ts'),
  route('show/:showId/reports/:eveningId/:format', 'routes/reports.ts'),
  route('show/:showId/health', 'routes/health.ts'),
  route('show/:showId/test-event', 'routes/test-event.ts'),
  route('show/:showId/entries', 'routes/entries.ts'),
  route('show/:showId/event-sources', 'routes/event-sources.ts'),
] satisfies RouteConfig;
