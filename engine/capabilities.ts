import { avcCandidates } from '../core/delivery/codec-choice';
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

/** The first codec string this browser says it can encode for a plan, or null. */
export async function chooseCodec(
  plan: Pick<EncodePlan, 'width' | 'height' | 'fps' | 'kbps'>,
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
      avc: { format: 'avc' },
    });
    if (supported) return codec;
  }
  return null;
}
