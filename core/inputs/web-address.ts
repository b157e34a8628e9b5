/**
 * Addresses on the web, and which of them belong to this machine or to a private network.
 * Sources: IANA special-purpose address registries for IPv4 (RFC 6890 and its updates) and IPv6; RFC 4291 §2.5.5.2 for
 * IPv4 in IPv6, RFC 6052 §2.1 and RFC 3056 §2 for IPv4 inside translated and tunnelled addresses.
 */
import { Fault } from '../fault';

/** First address of a block and the length of its prefix. Not reachable from everywhere: never meant for a stranger's page. */
const PRIVATE_IPV4 = [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.0.2.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['198.51.100.0', 24],
  ['203.0.113.0', 24],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
] as const;

function ipv4(text: string): number | null {
  const parts = text.split('.');
  if (parts.length !== 4) return null;
  let value = 0;
  for (const part of parts) {
    if (!/^\d{1,3}$/.test(part) || Number(part) > 255) return null;
    value = value * 256 + Number(part);
  }
  return value;
}

/** Eight groups of 16 bits, or null when the text is no IPv6 address. */
function ipv6(text: string): number[] | null {
  let words = text.split('%')[0];
  const dotted = /^(.*:)(\d+\.\d+\.\d+\.\d+)$/.exec(words);
  if (dotted) {
    const low = ipv4(dotted[2]);
    if (low === null) return null;
    words = `${dotted[1]}${Math.floor(low / 65_536).toString(16)}:${(low % 65_536).toString(16)}`;
  }
  const halves = words.split('::');
  if (halves.length > 2) return null;
  const groups = halves.map((half) => (half === '' ? [] : half.split(':')));
  const missing = 8 - groups.reduce((sum, g) => sum + g.length, 0);
  if (halves.length === 1 ? missing !== 0 : missing < 1) return null;
  const all = [...groups[0], ...Array<string>(missing).fill('0'), ...(groups[1] ?? [])];
  if (!all.every((g) => /^[0-9a-f]{1,4}$/i.test(g))) return null;
  return all.map((g) => parseInt(g, 16));
}

function isPrivateIpv4(value: number): boolean {
  return PRIVATE_IPV4.some(
    ([first, bits]) => Math.floor(value / 2 ** (32 - bits)) === Math.floor(ipv4(first)! / 2 ** (32 - bits)),
  );
}

/**
 * Whether an address belongs to this machine, a private network, or nobody.
 * @param address IPv4 or IPv6 in text; anything else counts as private, to be on the safe side
 */
export function isPrivateAddress(address: string): boolean {
  const four = ipv4(address);
  if (four !== null) return isPrivateIpv4(four);
  const six = ipv6(address);
  if (six === null) return true;
  const low = six[6] * 65_536 + six[7];
  const zeros = six.slice(0, 5).every((g) => g === 0);
  // IPv4 in IPv6 and the old compatible form; ::1 and :: are among the latter.
  if (zeros && (six[5] === 0xffff || six[5] === 0)) return isPrivateIpv4(low);
  if (six[0] === 0x64 && six[1] === 0xff9b) return isPrivateIpv4(low);
  if (six[0] === 0x2002) return isPrivateIpv4(six[1] * 65_536 + six[2]);
  // Only 2000::/3 is given out to everybody; of it, 2001:db8::/32 is for documents.
  return six[0] >> 13 !== 1 || (six[0] === 0x2001 && six[1] === 0xdb8);
}

/**
 * Whether an address is one of this machine's own, or of its neighbours in a network whose addresses are good everywhere:
 * with IPv6 a home's computers have such ones (RFC 4291 §2.5.4: the first 64 bits are the network's).
 * @param own the addresses this machine has now
 */
export function isNearAddress(address: string, own: readonly string[]): boolean {
  const six = ipv6(address);
  return own.some((one) => {
    if (one === address) return true;
    const near = six && ipv6(one);
    return near !== null && six!.slice(0, 4).every((group, i) => group === near[i]);
  });
}

/** `name:port`, lower case, as it is allowed or refused. */
export function hostAndPort(url: URL): string {
  const port = url.port || (url.protocol === 'https:' || url.protocol === 'wss:' ? '443' : '80');
  return `${url.hostname.toLowerCase()}:${port}`;
}

const MAX_ADDRESS = 2000;

/**
 * An address as somebody typed it.
 * @param schemes what may stand before `://`, the first one being added where there is none
 * @throws Fault `address.wrong` with what to do
 */
export function readAddress(text: string, schemes: readonly string[]): URL {
  const typed = text.trim();
  const wrong = (why: string) => new Fault('address.wrong', why);
  const list = schemes.map((s) => `${s}://`).join(', ');
  if (typed === '') throw wrong('Type an address first.');
  if (typed.length > MAX_ADDRESS) throw wrong(`An address has at most ${MAX_ADDRESS} characters.`);
  if (/\s/.test(typed)) throw wrong('There is a space in this address: copy it again.');
  const scheme = /^([a-z][a-z0-9+.-]*):\/\//i.exec(typed)?.[1]?.toLowerCase();
  if (scheme && !schemes.includes(scheme))
    throw wrong(`An address here begins with ${list}, not ${scheme}://.`);
  if (!scheme && /^[a-z]+:(?!\d)/i.test(typed)) throw wrong(`An address here begins with ${list}.`);
  let url: URL;
  try {
    url = new URL(scheme ? typed : `${schemes[0]}://${typed}`);
  } catch {
    throw wrong('This is no address: it looks like https://name.example/page.');
  }
  if (url.hostname === '') throw wrong('The name of the computer is missing in this address.');
  return url;
}
