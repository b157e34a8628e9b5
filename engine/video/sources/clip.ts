import {
  ALL_FORMATS,
  AudioSampleSink,
  Input,
  UrlSource,
  VideoSampleSink,
  type AudioSample,
} from 'mediabunny';
import { stereoOf } from '../../../core/sound/downmix';

/** One file, opened: its picture, its sound if it has any that can be played, its length. */
export interface Clip {
  input: Input;
  pictures: VideoSampleSink;
  sound: { sink: AudioSampleSink; sampleRate: number } | null;
  width: number;
  height: number;
  seconds: number;
}

/** @throws Error with words for the user when there is no picture that this browser can decode */
export async function openClip(url: string): Promise<Clip> {
  const input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
  try {
    const video = await input.getPrimaryVideoTrack();
    if (!video) throw new Error('there is no picture in this file');
    if (!(await video.canDecode()))
      throw new Error(
        `this browser cannot decode ${video.codec ?? 'its codec'}: bring it in as H.264 or VP9`,
      );
    const audio = await input.getPrimaryAudioTrack();
    const plays = audio !== null && (await audio.canDecode());
    return {
      input,
      pictures: new VideoSampleSink(video),
      sound: plays ? { sink: new AudioSampleSink(audio), sampleRate: audio.sampleRate } : null,
      width: video.displayWidth,
      height: video.displayHeight,
      // The picture's length: sound that runs longer must not hold a black hole open between two clips.
      seconds: await video.computeDuration(),
    };
  } catch (error) {
    input.dispose();
    throw error;
  }
}

/** Left and right of a sample. */
export function channelsOf(sample: AudioSample): [Float32Array, Float32Array] {
  const planes = Array.from({ length: sample.numberOfChannels }, (_, planeIndex) => {
    const data = new Float32Array(sample.numberOfFrames);
    sample.copyTo(data, { planeIndex, format: 'f32-planar' });
    return data;
  });
  return stereoOf(planes);
}
