/**
 * H.264 access units and their configuration record, as far as a relay must understand them.
 * Sources: ITU-T H.264 §7.3.1/§7.4.1 (NAL units), ISO/IEC 14496-15 §5.2.4.1 (configuration record).
 */
import { Fault } from '../fault';

export const NAL = { slice: 1, idr: 5, sei: 6, sps: 7, pps: 8, delimiter: 9, filler: 12 } as const;

export interface AvcConfig {
  profile: number;
  level: number;
  /** Bytes of each NAL length field, 1, 2 or 4. */
  lengthBytes: number;
  sps: Uint8Array[];
  pps: Uint8Array[];
}

/** @throws Fault `avc.config` when the record is damaged */
export function parseAvcConfig(bytes: Uint8Array): AvcConfig {
  const fail = (what: string) => new Fault('avc.config', `H.264 configuration record: ${what}`);
  if (bytes.length < 7 || bytes[0] !== 1) throw fail('wrong version or too short');
  const lengthBytes = (bytes[4] & 3) + 1;
  if (lengthBytes === 3) throw fail('NAL length of 3 bytes is reserved');
  let at = 5;
  const sets = (count: number, kind: number): Uint8Array[] => {
    const found: Uint8Array[] = [];
    for (let i = 0; i < count; i++) {
      if (at + 2 > bytes.length) throw fail('ends inside a parameter set');
      const length = (bytes[at] << 8) | bytes[at + 1];
      at += 2;
      if (length === 0 || at + length > bytes.length) throw fail('ends inside a parameter set');
      if ((bytes[at] & 0x1f) !== kind)
        throw fail(`parameter set of type ${bytes[at] & 0x1f}, ${kind} expected`);
      found.push(bytes.slice(at, at + length));
      at += length;
    }
    return found;
  };
  const sps = sets(bytes[at++] & 0x1f, NAL.sps);
  if (at >= bytes.length) throw fail('no picture parameter sets');
  const pps = sets(bytes[at++], NAL.pps);
  if (sps.length === 0 || pps.length === 0) throw fail('a sequence and a picture parameter set are needed');
  return { profile: bytes[1], level: bytes[3], lengthBytes, sps, pps };
}

/**
 * Types of the NAL units in one length-prefixed access unit.
 * @throws Fault `avc.picture` when lengths do not add up
 */
export function nalTypes(picture: Uint8Array, lengthBytes = 4): number[] {
  const types: number[] = [];
  let at = 0;
  while (at < picture.length) {
    let length = 0;
    if (at + lengthBytes > picture.length) throw new Fault('avc.picture', 'picture ends inside a NAL length');
    for (let i = 0; i < lengthBytes; i++) length = length * 256 + picture[at + i];
    at += lengthBytes;
    if (length === 0 || at + length > picture.length)
      throw new Fault(
        'avc.picture',
        `NAL unit of ${length} bytes at ${at} does not fit in ${picture.length}`,
      );
    types.push(picture[at] & 0x1f);
    at += length;
  }
  return types;
}

/**
 * One length-prefixed filler unit of exactly `bytes` bytes: header, 0xFF and the trailing bits (§7.3.2.7).
 * @param bytes at least 6
 */
export function fillerUnit(bytes: number): Uint8Array {
  const unit = new Uint8Array(bytes).fill(0xff);
  new DataView(unit.buffer).setUint32(0, bytes - 4);
  unit[4] = NAL.filler;
  unit[bytes - 1] = 0x80;
  return unit;
}
