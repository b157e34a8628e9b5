import type { Connector } from '../../core/connectors/connector';
import type { PlatformFacts } from './platform';

/**
 * What a stand-in says of itself: a file like that of any other service, and all the studio knows of it.
 *
 * @param port of the stand-ins' pages and calls
 * @param chatPort of its chat; null where that comes with the events
 */
export function connectorOf(
  facts: PlatformFacts,
  servers: readonly { name: string; url: string }[],
  port: number,
  chatPort: number | null,
): Connector {
  const at = `http://127.0.0.1:${port}/${facts.name}`;
  // On another host name than the studio: cookies do not tell ports apart.
  const pages = `http://localhost:${port}/${facts.name}`;
  const client = { clientId: 'dolomite', scope: 'broadcast', tokenUrl: `${at}/oauth/token` };
  return {
    format: 'dolomite-connector',
    version: 1,
    id: facts.name,
    name: facts.title,
    pages: { watch: `${pages}/watch`, account: `${pages}/account` },
    ingest: {
      frame: facts.frame,
      capKbps: facts.capKbps,
      key: facts.keyUse,
      ...(facts.listsServers
        ? {
            serversFrom: {
              ...{ method: 'GET', url: `${at}/servers`, value: '/servers' },
              ...{ name: '/title', address: '/ingest', region: '/region' },
            },
            regions: ['valley', 'ridge'],
          }
        : { servers: [...servers] }),
      testSeconds: 5,
    },
    signIn:
      facts.signIn === 'device'
        ? { type: 'device', ...client, deviceUrl: `${at}/oauth/device` }
        : { type: 'browser', ...client, authorizeUrl: `${pages}/authorize` },
    key: {
      read: { method: 'GET', url: `${at}/api/key`, value: '/key' },
      renew: { method: 'POST', url: `${at}/api/key`, value: '/key' },
    },
    details: {
      set: [
        {
          method: 'PUT',
          url: `${at}/api/broadcast`,
          json: {
            title: '{{title}}',
            category: '{{category}}',
            tags: '{{tags}}',
            description: '{{description}}',
            latency: '{{latency}}',
            visibility: '{{visibility}}',
          },
        },
      ],
      picture: { method: 'PUT', url: `${at}/api/thumbnail` },
      visibility: ['everybody', 'whoever has the link'],
    },
    announcement: { method: 'POST', url: `${at}/api/announcement`, json: { text: '{{text}}' } },
    events: { url: `ws://127.0.0.1:${port}/${facts.name}/feed` },
    ...(chatPort !== null && {
      chat: { host: '127.0.0.1', port: chatPort, tls: false, channel: '#night-signal-box' },
    }),
    emotes: `${at}/emotes/`,
  };
}
