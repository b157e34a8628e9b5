import { expect, test } from 'vitest';
import { uplinkFrom } from './uplink-from';

const RELAY = 'ws://127.0.0.1:4801/uplink';

test('a desk on the studio’s computer calls the relay, one elsewhere the address it came from', () => {
  expect(uplinkFrom(RELAY, { host: '127.0.0.1:4800', hostname: '127.0.0.1' })).toBe(RELAY);
  expect(uplinkFrom(RELAY, { host: '192.0.2.7:4443', hostname: '192.0.2.7' })).toBe(
    'wss://192.0.2.7:4443/uplink',
  );
});
