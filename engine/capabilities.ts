import { avcCandidates } from '../core/delivery/codec-choice';
import type { VideoEncoderChoice } from '../core/delivery/settings';
import type { EncodePlan } from '../protocol/engine';

/** What the studio cannot do without and this browser does not have; empty when all is there. */
export function missingInBrowser(): string[] {
  const needs: [string, boolean][] = [
    ['encoding pictures (WebCodecs VideoEncoder)', typeof VideoEncoder !== 'undefined'],
    ['decoding pictures (WebCodecs VideoDecoder)', typeof VideoDecoder !== 'undefined'],
    [
      'frames of cameras and screens (MediaStreamTrackProcessor)',
      typeof MediaStreamTrackProcessor !== 'undefined',
    ],
    ['drawing in workers (OffscreenCanvas)', typeof OffscreenCanvas !== 'undefined'],
    ['a sound thread (AudioWorklet)', typeof AudioWorkletNode !== 'undefined'],
    [
      'shared memory (cross-origin isolation)',
      typeof SharedArrayBuffer !== 'undefined' && crossOriginIsolated,
    ],
  ];
  return needs.filter(([, there]) => !there).map(([name]) => name);
}

/** As WebCodecs has it (§ HardwareAcceleration); a browser need not follow what is preferred, and says so when it cannot. */
export const ACCELERATION: Record<VideoEncoderChoice, HardwareAcceleration> = {
  any: 'no-preference',
  cpu: 'prefer-software',
  gpu: 'prefer-hardware',
};

/** The first codec string this browser says it can encode for a plan, or null. */
export async function chooseCodec(
  plan: Pick<EncodePlan, 'width' | 'height' | 'fps' | 'kbps' | 'encoder'>,
): Promise<string | null> {
  for (const codec of avcCandidates(plan.width, plan.height, plan.fps)) {
    const { supported } = await VideoEncoder.isConfigSupported({
      codec,
      width: plan.width,
      height: plan.height,
      framerate: plan.fps,
      bitrate: plan.kbps * 1000,
      bitrateMode: 'constant',
      latencyMode: 'realtime',
      hardwareAcceleration: ACCELERATION[plan.encoder],
      avc: { format: 'avc' },
    });
    if (supported) return codec;
  }
  return null;
}
