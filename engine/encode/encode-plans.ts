import type { Encode, EncodeId } from '../../core/delivery/encodes';
import { encodeValues, type Encoding } from '../../core/delivery/plan-steps';
import { avcCandidates } from '../../core/delivery/codec-choice';
import type { EncodePlan } from '../../protocol/engine';
import { encoderConfig } from './encoder-config';
import { planeColour } from './plane-colour';

type Wanted = Omit<EncodePlan, 'codec' | 'colour'>;

/** The first codec string that this browser says it can encode it with, or null. */
export async function chooseCodec(wanted: Wanted): Promise<string | null> {
  for (const codec of avcCandidates(wanted.width, wanted.height, wanted.fps))
    if ((await VideoEncoder.isConfigSupported(encoderConfig({ ...wanted, codec }))).supported) return codec;
  return null;
}

/** What an encoder is told; null when this browser cannot encode it. */
export async function encodePlan(wanted: Wanted): Promise<EncodePlan | null> {
  const codec = await chooseCodec(wanted);
  if (codec === null) return null;
  return { ...wanted, codec, colour: await planeColour(encoderConfig({ ...wanted, codec })) };
}

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
      // One that was chosen and has gone is no reason to send nothing: preflight says so.
      const plan = (await encodePlan(wanted)) ?? (await encodePlan({ ...wanted, encoder: 'any' }));
      if (!plan)
        throw new Error(
          `This browser cannot encode ${wanted.width} × ${wanted.height} at ${wanted.fps} in H.264: choose a smaller size in Delivery, or use Chromium, Chrome or Edge.`,
        );
      return { encode: encode.id, plan };
    }),
  );
}
