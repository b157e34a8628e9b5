import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { hostAndPort, isNearAddress, isPrivateAddress, readAddress } from './web-address';

describe('private addresses', () => {
  const inside = [
    ...['127.0.0.1', '127.255.255.254', '0.0.0.0', '10.1.2.3', '172.16.0.1', '172.31.255.255', '192.168.7.7'],
    ...['169.254.169.254', '100.64.0.1', '100.127.255.255', '198.18.0.1', '224.0.0.251', '255.255.255.255'],
    ...['::', '::1', 'fe80::1', 'fe80::1%eth0', 'fc00::1', 'fd12:3456::1', 'ff02::1', '2001:db8::1'],
    // IPv4 in other clothes.
    ...[
      '::ffff:127.0.0.1',
      '::ffff:c0a8:0707',
      '::127.0.0.1',
      '64:ff9b::10.0.0.1',
      '2002:7f00:1::',
      '2002:c0a8:1::1',
    ],
    // What is no address at all is not let through.
    ...['', 'localhost', '1.2.3', '1.2.3.4.5', '256.1.1.1', '::1::', 'g::1', '1:2:3:4:5:6:7', '0x7f.1'],
  ];
  const outside = [
    ...['1.1.1.1', '9.255.255.255', '11.0.0.0', '100.63.255.255', '100.128.0.0', '172.15.0.1', '172.32.0.0'],
    ...['192.167.255.255', '198.20.0.1', '223.255.255.255', '2606:4700::1111', '2a00:1450:4001:800::200e'],
    ...['::ffff:8.8.8.8', '64:ff9b::8.8.8.8', '2002:0808:0808::1'],
  ];
  test.each(inside)('%s is private', (address) => expect(isPrivateAddress(address)).toBe(true));
  test.each(outside)('%s is not', (address) => expect(isPrivateAddress(address)).toBe(false));
  test('IPv4 says the same inside IPv6', () => {
    const byte = fc.integer({ min: 0, max: 255 });
    fc.assert(
      fc.property(byte, byte, byte, byte, (a, b, c, d) => {
        const plain = `${a}.${b}.${c}.${d}`;
        expect(isPrivateAddress(`::ffff:${plain}`)).toBe(isPrivateAddress(plain));
      }),
    );
  });
});

describe('an address that was typed', () => {
  const web = ['https', 'http'];
  test('gets the first scheme where it has none', () => {
    expect(readAddress(' hut-nine.example/roof?x=1 ', web).href).toBe('https://hut-nine.example/roof?x=1');
    expect(readAddress('127.0.0.1:8080/a', web).href).toBe('https://127.0.0.1:8080/a');
    expect(readAddress('http://hut-nine.example', web).href).toBe('http://hut-nine.example/');
  });
  test.each([
    ['', /Type an address/],
    ['https://hut nine.example', /space/],
    ['file:///etc/passwd', /begins with https/],
    ['javascript:alert(1)', /begins with https/],
    ['rtmp://hut-nine.example/live', /begins with https.*not rtmp/],
    ['https://', /no address|missing/],
    ['https://[::1', /no address/],
    [`https://a.example/${'x'.repeat(2000)}`, /at most/],
  ])('%s is refused with what to do', (text, why) => expect(() => readAddress(text, web)).toThrow(why));
  test('is told by name and port', () => {
    expect(hostAndPort(new URL('https://Hut.example/a'))).toBe('hut.example:443');
    expect(hostAndPort(new URL('http://hut.example:81/a'))).toBe('hut.example:81');
    expect(hostAndPort(new URL('ws://[::1]/a'))).toBe('[::1]:80');
  });
});

test('near is what this machine has, and its neighbours in a network of addresses that are good everywhere', () => {
  const own = ['127.0.0.1', '192.0.2.7', '2a02:100:1:2::7', 'fe80::1'];
  for (const near of ['192.0.2.7', '2a02:100:1:2::7', '2a02:100:1:2:aaaa::9', '2a02:0100:0001:0002::1'])
    expect([near, isNearAddress(near, own)]).toEqual([near, true]);
  for (const far of ['192.0.2.8', '2a02:100:1:3::7', '2a03::1', 'nonsense'])
    expect([far, isNearAddress(far, own)]).toEqual([far, false]);
  expect(isNearAddress('2a02:100:1:2::7', [])).toBe(false);
});
