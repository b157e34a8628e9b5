/**
 * Bodies of RTMP audio, video and data messages, which are FLV tag bodies.
 * Source: "Adobe Flash Video File Format Specification", version 10.1, §E.4.2 (audio), §E.4.3 (video), §E.5 (onMetaData).
 */
import { EcmaArray, encodeAmf0 } from './amf0';

/** Sound format 10 (AAC), rate bits 3, 16 bit, stereo: fixed for AAC whatever the stream says (§E.4.2.1). */
const AAC_HEADER = 0xaf;
const CODEC_AVC = 7;
const FRAME_KEY = 1;
const FRAME_INTER = 2;

function withHeader(header: readonly number[], body: Uint8Array): Uint8Array {
  const out = new Uint8Array(header.length + body.length);
  out.set(header);
  out.set(body, header.length);
  return out;
}

/** @param config AudioSpecificConfig, ISO/IEC 14496-3 §1.6.2.1 */
export function aacSequenceHeader(config: Uint8Array): Uint8Array {
  return withHeader([AAC_HEADER, 0], config);
}

/** @param frame one raw AAC access unit */
export function aacFrame(frame: Uint8Array): Uint8Array {
  return withHeader([AAC_HEADER, 1], frame);
}

/** @param config AVCDecoderConfigurationRecord, ISO/IEC 14496-15 §5.2.4.1 */
export function avcSequenceHeader(config: Uint8Array): Uint8Array {
  return withHeader([(FRAME_KEY << 4) | CODEC_AVC, 0, 0, 0, 0], config);
}

/** @param picture one access unit, NAL units behind four-byte lengths; no reordering, so composition time is 0 */
export function avcFrame(picture: Uint8Array, keyframe: boolean): Uint8Array {
  return withHeader([((keyframe ? FRAME_KEY : FRAME_INTER) << 4) | CODEC_AVC, 1, 0, 0, 0], picture);
}

export interface StreamFacts {
  width: number;
  height: number;
  fps: number;
  videoKbps: number;
  audioKbps: number;
  sampleRate: number;
  channels: number;
}

/** The data message servers read the stream's facts from. */
export function onMetaData(facts: StreamFacts): Uint8Array {
  return encodeAmf0([
    '@setDataFrame',
    'onMetaData',
    new EcmaArray({
      width: facts.width,
      height: facts.height,
      framerate: facts.fps,
      videocodecid: CODEC_AVC,
      videodatarate: facts.videoKbps,
      audiocodecid: 10,
      audiodatarate: facts.audioKbps,
      audiosamplerate: facts.sampleRate,
      audiosamplesize: 16,
      stereo: facts.channels === 2,
      encoder: 'Dolomite',
    }),
  ]);
}
