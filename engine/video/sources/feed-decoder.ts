import { messageOf } from '../../../core/fault';
import { aacFacts, avcCodecName, type FeedPart } from '../../../core/media/feed-tags';

/** After a decoder failed the next one is tried this much later in the feed, at a place where one can begin. */
const AGAIN_SECONDS = 1;

export interface FeedOutput {
  /** Takes the frame over. */
  picture(frame: VideoFrame): void;
  /** The data is closed afterwards. */
  sound(data: AudioData): void;
  /** A picture or all of them cannot be decoded; in words that follow the feed's name. */
  problem(kind: 'video' | 'audio', text: string): void;
}

/** Decodes what a feed sends. A decoder that fails is replaced, at the next keyframe and not at once. */
export class FeedDecoder {
  #video: VideoDecoder | null = null;
  #audio: AudioDecoder | null = null;
  /** What the feed last said of itself: it says so once, and a feed that stood still goes on without saying it again. */
  #videoConfig: Uint8Array | null = null;
  #audioConfig: Uint8Array | null = null;
  /** A decoder can begin at a keyframe only. */
  #sawKeyframe = false;
  /** Where in the feed another decoder may be tried. */
  #videoFrom = -Infinity;
  #audioFrom = -Infinity;

  constructor(readonly output: FeedOutput) {}

  take(part: FeedPart): void {
    switch (part.type) {
      case 'videoConfig':
        this.#videoConfig = part.config;
        this.#videoFrom = -Infinity;
        return this.#endVideo();
      case 'audioConfig':
        this.#audioConfig = part.config;
        this.#audioFrom = -Infinity;
        return this.#endAudio();
      case 'picture': {
        if (!this.#video && this.#videoConfig && part.keyframe && isPast(this.#videoFrom, part.seconds))
          this.#openVideo(this.#videoConfig, part.seconds);
        if (this.#video?.state !== 'configured' || (!part.keyframe && !this.#sawKeyframe)) return;
        this.#sawKeyframe = true;
        return this.#video.decode(
          new EncodedVideoChunk({
            type: part.keyframe ? 'key' : 'delta',
            timestamp: Math.round(part.seconds * 1e6),
            data: part.data,
          }),
        );
      }
      case 'sound':
        if (!this.#audio && this.#audioConfig && isPast(this.#audioFrom, part.seconds))
          this.#openAudio(this.#audioConfig, part.seconds);
        if (this.#audio?.state !== 'configured') return;
        return this.#audio.decode(
          new EncodedAudioChunk({ type: 'key', timestamp: Math.round(part.seconds * 1e6), data: part.data }),
        );
    }
  }

  /** Ends what is being decoded; the next keyframe begins anew. */
  reset(): void {
    this.#endVideo();
    this.#endAudio();
    this.#videoFrom = -Infinity;
    this.#audioFrom = -Infinity;
  }

  #endVideo(): void {
    if (this.#video?.state === 'configured') this.#video.close();
    this.#video = null;
    this.#sawKeyframe = false;
  }

  #endAudio(): void {
    if (this.#audio?.state === 'configured') this.#audio.close();
    this.#audio = null;
  }

  #openVideo(config: Uint8Array, seconds: number): void {
    const codec = avcCodecName(config);
    this.#videoFrom = seconds + AGAIN_SECONDS;
    if (codec === null) return this.output.problem('video', 'its picture’s description is broken');
    const decoder = new VideoDecoder({
      output: (frame) => {
        if (this.#video === decoder) this.output.picture(frame);
        else frame.close();
      },
      error: (error) => {
        if (this.#video !== decoder) return;
        this.#endVideo();
        this.output.problem(
          'video',
          `its picture cannot be decoded (${messageOf(error)}): send H.264 in 8 bits, 4:2:0, of profile High or below`,
        );
      },
    });
    // A description that a browser finds wrong in itself is thrown, not told.
    try {
      decoder.configure({ codec, description: config, optimizeForLatency: true });
      this.#video = decoder;
    } catch (error) {
      this.output.problem('video', `its picture cannot be decoded: ${messageOf(error)}`);
    }
  }

  #openAudio(config: Uint8Array, seconds: number): void {
    const facts = aacFacts(config);
    this.#audioFrom = seconds + AGAIN_SECONDS;
    if (!facts) return this.output.problem('audio', 'its sound’s description is broken');
    const decoder = new AudioDecoder({
      output: (data) => {
        if (this.#audio === decoder) this.output.sound(data);
        data.close();
      },
      error: (error) => {
        if (this.#audio !== decoder) return;
        this.#endAudio();
        this.output.problem('audio', `its sound cannot be decoded (${messageOf(error)}): send AAC-LC`);
      },
    });
    try {
      decoder.configure({
        codec: facts.codec,
        sampleRate: facts.sampleRate,
        numberOfChannels: facts.channels,
        description: config,
      });
      this.#audio = decoder;
    } catch (error) {
      this.output.problem('audio', `its sound cannot be decoded: ${messageOf(error)}`);
    }
  }
}

/** A feed that begins anew counts from its own beginning: far before is past, too. */
function isPast(from: number, seconds: number): boolean {
  return seconds >= from || seconds < from - 2 * AGAIN_SECONDS;
}
