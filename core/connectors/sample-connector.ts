/** A connector with everything in it, for tests. Used by tests only. */
import type { Connector } from './connector';

export function sampleConnector(): Connector {
  const api = 'https://api.larch.example';
  return {
    format: 'dolomite-connector',
    version: 1,
    id: 'larch',
    name: 'Larch',
    pages: { watch: 'https://larch.example/night', account: 'https://larch.example/account' },
    ingest: {
      ...{ frame: 'tall', capKbps: 6000, key: 'fresh', testSeconds: 8, regions: ['valley'] },
      servers: [{ name: 'Valley', url: 'rtmps://larch.example/live', region: 'valley' }],
      serversFrom: {
        ...{ method: 'GET', url: `${api}/servers`, value: '/servers' },
        ...{ name: '/title', address: '/ingest', region: '/region' },
      },
    },
    signIn: {
      ...{ type: 'device', clientId: 'dolomite', scope: 'broadcast' },
      ...{ deviceUrl: 'https://larch.example/device', tokenUrl: 'https://larch.example/token' },
    },
    key: {
      read: { method: 'GET', url: `${api}/key`, value: '/key' },
      renew: { method: 'POST', url: `${api}/key`, value: '/key', form: { new: 'yes' } },
    },
    details: {
      set: [{ method: 'PUT', url: `${api}/broadcast`, json: { title: '{{title}}', tags: '{{tags}}' } }],
      picture: { method: 'PUT', url: `${api}/thumbnail`, headers: { 'x-kind': 'thumbnail' } },
      visibility: ['everybody', 'whoever has the link'],
      latency: { normal: 'standard', lowest: 'ultra' },
    },
    announcement: { method: 'POST', url: `${api}/announcement`, json: { text: '{{text}}' } },
    events: { url: 'wss://larch.example/feed', signedIn: true },
    chat: {
      ...{ host: 'chat.larch.example', port: 6697, tls: true, channel: '#{{nick}}' },
      account: { method: 'GET', url: `${api}/me`, value: '/name' },
      password: 'oauth:{{token}}',
    },
    emotes: 'https://larch.example/emotes/',
  };
}
