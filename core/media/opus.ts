/**
 * What of Opus is known without decoding it. Sources: RFC 6716 (the codec), RFC 7845 §5.1 (its identification header).
 */
import { Fault } from '../fault';

/**
 * A packet of silence: the first byte says CELT, full band, 20 ms, stereo, one frame (RFC 6716 §3.1); the rest is what the
 * range coder makes of silence (§4.3).
 */
export const OPUS_SILENCE = Uint8Array.of(0xfc, 0xff, 0xfe);
export const OPUS_SILENCE_US = 20_000;

const HEAD = new TextEncoder().encode('OpusHead');

/**
 * @param head an identification header
 * @returns samples at 48 kHz that an encoder put before the first real one
 * @throws Fault `opus.head` when it is none
 */
export function opusPreSkip(head: Uint8Array): number {
  if (head.length < 19 || HEAD.some((byte, i) => head[i] !== byte))
    throw new Fault('opus.head', 'this is not the header of an Opus stream');
  return head[10] | (head[11] << 8);
}

/**
 * The header for a file that begins in the middle of a stream: nothing is thrown away at its start, so that sound lies where
 * its stamps say in players that mind the header and in those that do not.
 */
export function withoutPreSkip(head: Uint8Array): Uint8Array {
  const copy = head.slice();
  copy.set([0, 0], 10);
  return copy;
}
