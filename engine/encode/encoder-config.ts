import type { VideoEncoderChoice } from '../../core/delivery/settings';
import { configWithColour } from '../../core/media/avc-colour';
import type { EncodePlan } from '../../protocol/engine';
import { bytesOf } from './bytes-of';

/** As WebCodecs has it (§ HardwareAcceleration); a browser need not follow what is preferred, and says so when it cannot. */
const ACCELERATION: Record<VideoEncoderChoice, HardwareAcceleration> = {
  any: 'no-preference',
  cpu: 'prefer-software',
  gpu: 'prefer-hardware',
};

/** What an encoder is asked for. @param kbps wanted now, where that is not the plan's */
export function encoderConfig(plan: Omit<EncodePlan, 'colour'>, kbps = plan.kbps): VideoEncoderConfig {
  return {
    codec: plan.codec,
    width: plan.width,
    height: plan.height,
    framerate: plan.fps,
    bitrate: Math.round(kbps * 1000),
    bitrateMode: 'constant',
    latencyMode: plan.effort === 'careful' ? 'quality' : 'realtime',
    hardwareAcceleration: ACCELERATION[plan.encoder],
    avc: { format: 'avc' },
  };
}

/** The configuration record an encoder gave, saying how its planes are to be read. */
export function streamConfig(description: AllowSharedBufferSource, { colour }: EncodePlan): Uint8Array {
  const config = bytesOf(description);
  return colour ? configWithColour(config, colour) : config;
}
