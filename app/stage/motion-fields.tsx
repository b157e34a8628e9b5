import Button from '@mui/material/Button';
import { LAYER_MOTIONS, SIDES, type LayerMotion, type LayerMotionType } from '~/core/show/motion-records';
import type { LayerRecord } from '~/core/show/records';
import { useStudio } from '../studio/studio-context';
import { TimingFields } from '../studio/timing-fields';
import { useNewest } from '../studio/use-newest';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';
import { FIELD_GRID, FieldHeading } from './field-layout';
import { useStage } from './stage-context';

const WORDS: Record<LayerMotionType, string> = {
  fade: 'Fade',
  slide: 'Slide',
  zoom: 'Zoom',
  wipe: 'Wipe',
  cut: 'At once',
};
const SIDE_WORDS = { left: 'Left', right: 'Right', top: 'Above', bottom: 'Below' } as const;

/** How a layer comes and goes between poses, and its own timing. */
export function MotionFields({ layer }: { layer: LayerRecord }) {
  const { edit, pose, scene } = useStage();
  const { desk } = useStudio();
  const { t } = useTranslation();
  const { motion } = layer;
  const play = (leaves: boolean) => {
    const stop = { sceneId: scene.id, poseId: pose?.id ?? null };
    desk.tryOut({ from: stop, to: stop, transition: null, onlyLayer: { id: layer.id, leaves } });
  };
  const set = useNewest<LayerMotion>(motion, (next) =>
    edit(t('layout.motionOfName', { name: layer.name }), [{ ...layer, motion: next }]),
  );
  const sided = [motion.enter, motion.leave].some((m) => m === 'slide' || m === 'wipe');
  const select = (
    label: string,
    value: string,
    options: [string, string][],
    onChange: (v: string) => void,
  ) => (
    <label className="labelled-select">
      <span>{label}</span>
      <select className="plain-select" value={value} onChange={(e) => onChange(e.target.value)}>
        {options.map(([option, words]) => (
          <option key={option} value={option}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
  const ways = LAYER_MOTIONS.map((m) => [m, WORDS[m]] as [string, string]);
  return (
    <>
      <FieldHeading>{t('layout.motion')}</FieldHeading>
      <div style={FIELD_GRID}>
        {select('Enters', motion.enter, ways, (enter) => set({ enter: enter as LayerMotionType }))}
        {select('Leaves', motion.leave, ways, (leave) => set({ leave: leave as LayerMotionType }))}
        {sided &&
          select(
            'Side',
            motion.side,
            SIDES.map((s) => [s, SIDE_WORDS[s]]),
            (side) => set({ side: side as LayerMotion['side'] }),
          )}
      </div>
      <div style={{ display: 'flex', gap: 6 }}>
        <Button onClick={() => play(false)}>{t('try.enter')}</Button>
        <Button onClick={() => play(true)}>{t('try.leave')}</Button>
      </div>
      <Toggle
        label={t('layout.customTiming')}
        on={motion.timing !== null}
        onChange={(own) => {
          const { seconds, easing } = pose?.glide ?? scene.glide;
          set({ timing: own ? { seconds, easing } : null });
        }}
      />
      {motion.timing && <TimingFields timing={motion.timing} onChange={(timing) => set({ timing })} />}
    </>
  );
}
