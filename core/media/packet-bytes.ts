/** Packets in a row of bytes, for what is put on the disk for a while and read again by us. */
import { Fault } from '../fault';
import type { RingPacket } from '../delivery/group-ring';

/** track and flags, sound track, headers, stamp, duration, length */
const HEADER_BYTES = 1 + 1 + 2 + 8 + 4 + 4;

export function packetsToBytes(packets: readonly RingPacket[]): Uint8Array {
  const out = new Uint8Array(packets.reduce((sum, p) => sum + HEADER_BYTES + p.payload.length, 0));
  const view = new DataView(out.buffer);
  let at = 0;
  for (const packet of packets) {
    out[at] = (packet.track === 'audio' ? 1 : 0) | (packet.keyframe ? 2 : 0);
    out[at + 1] = packet.soundTrack ?? 0;
    view.setUint16(at + 2, packet.headers);
    view.setFloat64(at + 4, packet.timestampUs);
    view.setUint32(at + 12, packet.durationUs);
    view.setUint32(at + 16, packet.payload.length);
    out.set(packet.payload, at + HEADER_BYTES);
    at += HEADER_BYTES + packet.payload.length;
  }
  return out;
}

/** @throws Fault `packets.damaged` when the bytes are not what `packetsToBytes` wrote */
export function packetsFromBytes(bytes: Uint8Array): RingPacket[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packets: RingPacket[] = [];
  let at = 0;
  while (at < bytes.length) {
    if (at + HEADER_BYTES > bytes.length) throw damaged();
    const length = view.getUint32(at + 16);
    const end = at + HEADER_BYTES + length;
    if (end > bytes.length || bytes[at] > 3) throw damaged();
    const soundTrack = bytes[at + 1];
    packets.push({
      track: (bytes[at] & 1) !== 0 ? 'audio' : 'video',
      keyframe: (bytes[at] & 2) !== 0,
      ...(soundTrack > 0 && { soundTrack }),
      headers: view.getUint16(at + 2),
      timestampUs: view.getFloat64(at + 4),
      durationUs: view.getUint32(at + 12),
      payload: bytes.subarray(at + HEADER_BYTES, end),
    });
    at = end;
  }
  return packets;
}

const damaged = () => new Fault('packets.damaged', 'what was put aside on the disk is damaged');
