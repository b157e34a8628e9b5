import { expect, test } from 'vitest';
import { kindOfCandidate, readAddresses } from './ice';

test.each([
  ['', []],
  ['stun.example', ['stun:stun.example']],
  ['stun:stun.example:3478, stuns:[fd00::2]:5349', ['stun:stun.example:3478', 'stuns:[fd00::2]:5349']],
])('STUN %j', (text, addresses) => expect(readAddresses(text, 'stun')).toEqual(addresses));

test.each([
  ['turn.example:3478', ['turn:turn.example:3478']],
  ['turns:turn.example?transport=tcp', ['turns:turn.example?transport=tcp']],
])('TURN %j', (text, addresses) => expect(readAddresses(text, 'turn')).toEqual(addresses));

test.each([
  'http://stun.example',
  'turn:relay.example',
  'stun:',
  'stun:a b:70000',
  'stun:x:99999',
  'stun:x?y=1',
])('no STUN server: %j', (text) =>
  expect(() => readAddresses(text, 'stun')).toThrow(/is no address of a STUN server/),
);

test('a relay’s transport is one there is, and there are not too many', () => {
  expect(() => readAddresses('turn:x?transport=sctp', 'turn')).toThrow(/TURN/);
  expect(() => readAddresses('a b c d e', 'stun')).toThrow(/At most 4/);
});

test('candidates are told apart', () => {
  expect(kindOfCandidate('candidate:1 1 udp 2122 192.0.2.2 51742 typ host generation 0')).toBe('host');
  expect(kindOfCandidate('candidate:2 1 udp 1686 198.51.100.7 4000 typ srflx raddr 0.0.0.0 rport 0')).toBe(
    'reflexive',
  );
  expect(kindOfCandidate('candidate:3 1 udp 41 203.0.113.9 4000 typ relay raddr 0.0.0.0 rport 0')).toBe(
    'relayed',
  );
  expect(kindOfCandidate('candidate:4 1 udp 41 203.0.113.9 4000 typ prflx')).toBeNull();
  expect(kindOfCandidate('')).toBeNull();
});
