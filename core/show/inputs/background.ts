import { PLAIN_INPUT_KIND, type InputKind } from '../input-kind';
import { choice, colour, number, whole, type Field } from '../shape';

export const BACKGROUND_TEXTURES = ['strata', 'dots', 'weave', 'rain'] as const;
export type BackgroundTexture = (typeof BACKGROUND_TEXTURES)[number];

export type BackgroundLook =
  | { look: 'plain'; colour: string }
  | { look: 'gradient'; from: string; to: string; angleDeg: number; shape: 'linear' | 'radial' }
  | { look: 'texture'; texture: BackgroundTexture; colour: string; ink: string; seed: number };

export type BackgroundInput = { type: 'background' } & BackgroundLook;

const LOOKS: Record<BackgroundLook['look'], Record<string, Field>> = {
  plain: { colour },
  gradient: {
    ...{ from: colour, to: colour },
    angleDeg: number(-360, 360),
    shape: choice(['linear', 'radial']),
  },
  texture: { texture: choice(BACKGROUND_TEXTURES), colour, ink: colour, seed: whole(0, 0xffffffff) },
};

export const background: InputKind<BackgroundInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'background',
  shape: Object.entries(LOOKS).map(([look, fields]) => ({ look: choice([look]), ...fields })),
  role: () => 'background',
  opaque: (source) => source.look === 'plain' && /^#[0-9a-f]{6}$/i.test(source.colour),
  kept: true,
};
