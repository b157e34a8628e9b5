import { expect, test } from 'vitest';
import { keyInAddress } from './ingest-address';

test.each([
  ['rtmp://ingest.larch.test/live/hut9_abc123def456', 'rtmp://ingest.larch.test/live', 'hut9_abc123def456'],
  [
    'rtmps://ingest.larch.test:443/live/KEY?token=abc&x=1',
    'rtmps://ingest.larch.test:443/live',
    'KEY?token=abc&x=1',
  ],
  [
    ' rtmp://larch.test/app/instance/abcdef-123456-xyz/ ',
    'rtmp://larch.test/app/instance',
    'abcdef-123456-xyz',
  ],
  ['RTMP://larch.test/live/name#part', 'RTMP://larch.test/live', 'name#part'],
])('%s', (pasted, url, key) => expect(keyInAddress(pasted)).toEqual({ url, key }));

test.each([
  'rtmp://ingest.larch.test/live',
  'rtmp://ingest.larch.test/live/',
  'rtmp://ingest.larch.test/app/instance',
  'rtmp://ingest.larch.test/a-long-name-of-an-application-1',
  'rtmp://ingest.larch.test/live?token=abc',
  'https://larch.test/live/abcdefghijkl1',
  'nonsense',
  '',
])('%s has no key in it', (pasted) => expect(keyInAddress(pasted)).toBeNull());
