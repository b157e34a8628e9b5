/**
 * What is in the tags of a feed somebody else makes: codecs, configuration, pictures and sound.
 * Sources: "Adobe Flash Video File Format Specification", version 10.1, §E.4.2 and §E.4.3; Enhanced RTMP v1 for the
 * codecs that are named by four letters.
 */
import type { FlvTag } from './flv-stream';

const AUDIO_CODECS: Record<number, string> = {
  0: 'PCM',
  1: 'ADPCM',
  2: 'MP3',
  3: 'PCM',
  4: 'Nellymoser',
  5: 'Nellymoser',
  6: 'Nellymoser',
  7: 'G.711',
  8: 'G.711',
  11: 'Speex',
  14: 'MP3',
};
const VIDEO_CODECS: Record<number, string> = {
  2: 'H.263',
  3: 'Screen video',
  4: 'VP6',
  5: 'VP6',
  6: 'Screen video',
};
const FOUR_LETTERS: Record<string, string> = { hvc1: 'HEVC', av01: 'AV1', vp09: 'VP9' };
const AVC = 7;
const AAC = 10;

export type FeedPart =
  | { type: 'videoConfig'; config: Uint8Array }
  | { type: 'audioConfig'; config: Uint8Array }
  /** `seconds` is when it is shown. */
  | { type: 'picture'; keyframe: boolean; seconds: number; data: Uint8Array }
  | { type: 'sound'; seconds: number; data: Uint8Array }
  /** A codec the studio does not take. */
  | { type: 'foreign'; kind: 'video' | 'audio'; codec: string }
  | { type: 'nothing' };

/** Reads one tag; what is cut short or says nothing is `nothing`. */
export function readFeedTag({ kind, timestampMs, body }: FlvTag): FeedPart {
  if (body.length < 2 || kind === 'data') return { type: 'nothing' };
  if (kind === 'audio') {
    const format = body[0] >> 4;
    if (format !== AAC) return { type: 'foreign', kind, codec: AUDIO_CODECS[format] ?? `format ${format}` };
    const data = body.subarray(2);
    if (data.length === 0) return { type: 'nothing' };
    return body[1] === 0
      ? { type: 'audioConfig', config: data }
      : { type: 'sound', seconds: timestampMs / 1000, data };
  }
  if ((body[0] & 0x80) !== 0) {
    const name = String.fromCharCode(...body.subarray(1, 5));
    return { type: 'foreign', kind, codec: FOUR_LETTERS[name] ?? name };
  }
  const codec = body[0] & 0x0f;
  if (codec !== AVC) return { type: 'foreign', kind, codec: VIDEO_CODECS[codec] ?? `codec ${codec}` };
  if (body.length < 6) return { type: 'nothing' };
  const data = body.subarray(5);
  if (body[1] === 0) return { type: 'videoConfig', config: data };
  if (body[1] !== 1) return { type: 'nothing' };
  // 24 bits, signed: how much later it is shown than decoded.
  const later = (((body[2] << 16) | (body[3] << 8) | body[4]) << 8) >> 8;
  return { type: 'picture', keyframe: body[0] >> 4 === 1, seconds: (timestampMs + later) / 1000, data };
}

/** WebCodecs' name of an H.264 stream (RFC 6381), from its AVCDecoderConfigurationRecord; null when that is broken. */
export function avcCodecName(config: Uint8Array): string | null {
  if (config.length < 7 || config[0] !== 1) return null;
  return `avc1.${[...config.subarray(1, 4)].map((b) => b.toString(16).padStart(2, '0')).join('')}`;
}

const SAMPLE_RATES = [
  96_000, 88_200, 64_000, 48_000, 44_100, 32_000, 24_000, 22_050, 16_000, 12_000, 11_025, 8000, 7350,
];

/** What an AudioSpecificConfig says (ISO/IEC 14496-3 §1.6.2.1); null when it is broken or of a rate written out. */
export function aacFacts(config: Uint8Array): { codec: string; sampleRate: number; channels: number } | null {
  if (config.length < 2) return null;
  const objectType = config[0] >> 3;
  const sampleRate = SAMPLE_RATES[((config[0] & 7) << 1) | (config[1] >> 7)];
  const channels = (config[1] >> 3) & 0x0f;
  if (objectType === 0 || sampleRate === undefined || channels < 1 || channels > 7) return null;
  return { codec: `mp4a.40.${objectType}`, sampleRate, channels: channels === 7 ? 8 : channels };
}
