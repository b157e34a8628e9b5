import type { Encode, EncodeId } from '../../core/delivery/encodes';
import type { PlanRecord } from '../../core/show/records';
import type { EncodePlan } from '../../protocol/engine';
import { chooseCodec } from '../capabilities';

/**
 * What the encoders are told.
 * @throws Error with words for the user when this browser cannot encode one of them
 */
export async function encodePlans(
  plan: Pick<PlanRecord, 'fps' | 'keyframeSeconds' | 'effort'>,
  encodes: readonly Encode[],
): Promise<{ encode: EncodeId; plan: EncodePlan }[]> {
  return Promise.all(
    encodes.map(async ({ id, width, height, videoKbps }) => {
      const wanted = {
        width,
        height,
        fps: plan.fps,
        kbps: videoKbps,
        keyframeSeconds: plan.keyframeSeconds,
        effort: plan.effort,
      };
      const codec = await chooseCodec(wanted);
      if (!codec)
        throw new Error(
          `This browser cannot encode ${width} × ${height} at ${plan.fps} in H.264: choose a smaller size in Delivery, or use Chromium, Chrome or Edge.`,
        );
      return { encode: id, plan: { ...wanted, codec } };
    }),
  );
}
