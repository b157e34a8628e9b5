import type { Encode, EncodeId } from '../../core/delivery/encodes';
import { encodeValues, type Encoding } from '../../core/delivery/plan-steps';
import type { EncodePlan } from '../../protocol/engine';
import { chooseCodec } from '../capabilities';

/**
 * What the encoders are told.
 * @throws Error with words for the user when this browser cannot encode one of them
 */
export async function encodePlans(
  encoding: Encoding,
  encodes: readonly Encode[],
): Promise<{ encode: EncodeId; plan: EncodePlan }[]> {
  return Promise.all(
    encodes.map(async (encode) => {
      const wanted = encodeValues(encoding, encode);
      const codec = await chooseCodec(wanted);
      if (codec) return { encode: encode.id, plan: { ...wanted, codec } };
      // One that was chosen and has gone is no reason to send nothing: preflight says so.
      const other = await chooseCodec({ ...wanted, encoder: 'any' });
      if (!other)
        throw new Error(
          `This browser cannot encode ${wanted.width} × ${wanted.height} at ${wanted.fps} in H.264: choose a smaller size in Delivery, or use Chromium, Chrome or Edge.`,
        );
      return { encode: encode.id, plan: { ...wanted, encoder: 'any', codec: other } };
    }),
  );
}
