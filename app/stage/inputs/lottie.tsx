import type { LottieInput } from '~/core/show/inputs/lottie';
import { NumberField } from '../../studio/number-field';
import { Toggle } from '../../studio/toggle';
import type { InputPart } from '../input-parts';

export const part: InputPart<LottieInput> = {
  type: 'lottie',
  Fields: ({ source, set }) => (
    <>
      <NumberField
        label="Speed"
        unit="%"
        value={source.speed * 100}
        min={5}
        max={2000}
        step={5}
        onCommit={(percent) => set('Speed', { ...source, speed: percent / 100 })}
      />
      <Toggle label="Loop" on={source.loop} onChange={(loop) => set('Loop', { ...source, loop })} />
    </>
  ),
};
