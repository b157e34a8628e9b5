import Button from '@mui/material/Button';
import {
  BLENDS,
  BLUR_PARTS,
  FINISH_LIMITS,
  MASK_BY,
  PLAIN_FINISH,
  START_AREA,
  START_BLUR,
  START_GLOW,
  type Area,
  type Blend,
  type BlurPart,
  type Glow,
  type LayerFinish,
} from '~/core/show/finish-records';
import { areaOfRect } from '~/core/scene/item-finish';
import type { LayerRecord } from '~/core/show/records';
import { ColourField } from '../studio/colour-field';
import { FileButton } from '../studio/file-button';
import { NumberField } from '../studio/number-field';
import { useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { useNewest } from '../studio/use-newest';
import { FIELD_GRID, FieldHeading } from './field-layout';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

const BLEND_WORDS: Record<Blend, string> = {
  normal: 'Normal',
  add: 'Add',
  multiply: 'Multiply',
  screen: 'Screen',
};
const PART_WORDS: Record<BlurPart, string> = {
  whole: 'All of it',
  inside: 'Only the areas',
  outside: 'All but the areas',
};
const MASK_WORDS = { brightness: 'Bright parts', transparency: 'Opaque parts' } as const;

/** How a layer is finished: how it meets what is below, light around and inside its edge, blur, mask, its shadow. */
export function FinishFields({ layer }: { layer: LayerRecord }) {
  const { t } = useTranslation();
  const { edit, frame, picking, drawing, setDrawing } = useStage();
  const { say } = useStudio();
  const { finish } = layer;
  const set = useNewest<LayerFinish>(finish, (next) =>
    edit(t('layout.edgesAndEffectsOfName', { name: layer.name }), [{ ...layer, finish: next }]),
  );
  const shadowed = Object.values(layer.placements).some((p) => p.shadowPx > 0);
  const { blur, mask, shadow } = finish;
  const glow = (which: 'outerGlow' | 'innerGlow', words: string) => {
    const value = finish[which];
    const change = (part: Partial<Glow>) => set({ [which]: { ...START_GLOW, ...finish[which], ...part } });
    return (
      <>
        <Toggle
          label={words}
          on={value !== null}
          onChange={(on) => set({ [which]: on ? START_GLOW : null })}
        />
        {value && (
          <div style={FIELD_GRID}>
            <NumberField
              label={t('layout.reach')}
              unit="px"
              value={value.sizePx}
              min={0}
              max={FINISH_LIMITS.glowPx}
              onCommit={(sizePx) => change({ sizePx })}
            />
            <NumberField
              label={t('layout.strength')}
              unit="%"
              value={value.strength * 100}
              min={0}
              max={100}
              onCommit={(percent) => change({ strength: percent / 100 })}
            />
            <ColourField
              label={t('layout.colour')}
              value={value.colour}
              onChange={(colour) => change({ colour })}
            />
          </div>
        )}
      </>
    );
  };
  const setAreas = (areas: Area[]) => set({ blur: { ...(blur ?? START_BLUR), areas } });
  const draw = () => {
    if (drawing) return setDrawing(null);
    const placement = layer.placements[frame];
    if (!placement) return say(t('layout.nameIsNotInThis', { name: layer.name }));
    setDrawing((of, rect) => {
      setDrawing(null);
      const standing = layer.placements[of];
      const area = standing && areaOfRect(rect, standing);
      if (!area) return say(t('layout.theAreaLiesOutsideName', { name: layer.name }));
      setAreas([...(blur?.areas ?? []), area]);
    });
  };
  const takeMask = ({ assetId, name, mime }: { assetId: string; name: string; mime: string }) => {
    if (!mime.startsWith('image/')) return say(t('layout.nameIsNoPictureA', { name }));
    set({ mask: { assetId, name, by: 'brightness', inverted: false } });
  };
  return (
    <>
      <FieldHeading>{t('layout.edgesAndEffects')}</FieldHeading>
      <label className="labelled-select">
        <span>{t('layout.blendMode')}</span>
        <select
          className="plain-select"
          value={finish.blend}
          onChange={(e) => set({ blend: e.target.value as Blend })}
        >
          {BLENDS.map((b) => (
            <option key={b} value={b}>
              {BLEND_WORDS[b]}
            </option>
          ))}
        </select>
      </label>
      {glow('outerGlow', 'Outer glow')}
      {glow('innerGlow', 'Inner glow')}
      <Toggle
        label={t('layout.blur')}
        on={blur !== null}
        onChange={(on) => set({ blur: on ? START_BLUR : null })}
      />
      {blur && (
        <>
          <div style={FIELD_GRID}>
            <NumberField
              label={t('layout.blurRadius')}
              unit="px"
              value={blur.px}
              min={0}
              max={FINISH_LIMITS.blurPx}
              onCommit={(px) => set({ blur: { ...blur, px } })}
            />
            <select
              aria-label={t('layout.whatIsBlurred')}
              className="plain-select"
              value={blur.part}
              onChange={(e) => {
                const part = e.target.value as BlurPart;
                const areas = part !== 'whole' && blur.areas.length === 0 ? [START_AREA] : blur.areas;
                set({ blur: { ...blur, part, areas } });
              }}
            >
              {BLUR_PARTS.map((p) => (
                <option key={p} value={p}>
                  {PART_WORDS[p]}
                </option>
              ))}
            </select>
          </div>
          {blur.part !== 'whole' && (
            <div style={{ display: 'grid', gap: 4, marginTop: 6 }}>
              {blur.areas.map((area, i) => (
                <AreaRow
                  key={i}
                  number={i + 1}
                  area={area}
                  onChange={(next) => setAreas(blur.areas.map((a, k) => (k === i ? next : a)))}
                  onRemove={() => setAreas(blur.areas.filter((_, k) => k !== i))}
                />
              ))}
              <Button
                disabled={blur.areas.length >= FINISH_LIMITS.areas || picking !== null}
                onClick={draw}
                sx={{ color: drawing ? 'var(--larch)' : undefined }}
                title={t('layout.thenDragOverTheLayer')}
              >
                {drawing ? t('layout.dragOverTheLayer') : t('layout.drawAnArea')}
              </Button>
            </div>
          )}
        </>
      )}
      <div style={{ display: 'flex', gap: 6, alignItems: 'center', minHeight: 30 }}>
        {mask ? (
          <>
            <span className="pose-name" title={mask.name}>
              {t('layout.maskName', { name: mask.name })}
            </span>
            <Button onClick={() => set({ mask: null })} aria-label={t('layout.removeTheMask')}>
              {t('layout.remove')}
            </Button>
          </>
        ) : (
          <FileButton
            label={t('layout.maskFromAPicture')}
            accept="image/png,image/webp,image/jpeg"
            onFiles={(files) => takeMask(files[0])}
          />
        )}
      </div>
      {mask && (
        <>
          <label className="labelled-select">
            <span>{t('layout.maskBy')}</span>
            <select
              className="plain-select"
              value={mask.by}
              onChange={(e) => set({ mask: { ...mask, by: e.target.value as (typeof MASK_BY)[number] } })}
            >
              {MASK_BY.map((by) => (
                <option key={by} value={by}>
                  {MASK_WORDS[by]}
                </option>
              ))}
            </select>
          </label>
          <Toggle
            label={t('layout.invert')}
            on={mask.inverted}
            onChange={(inverted) => set({ mask: { ...mask, inverted } })}
          />
        </>
      )}
      {shadowed && (
        <>
          <FieldHeading>{t('layout.shadow')}</FieldHeading>
          <div style={FIELD_GRID}>
            <NumberField
              label={t('layout.shadowAngle')}
              unit="°"
              value={shadow.angleDeg}
              min={-360}
              max={360}
              step={5}
              onCommit={(angleDeg) => set({ shadow: { ...shadow, angleDeg } })}
            />
            <NumberField
              label={t('layout.distance')}
              unit="%"
              value={shadow.distance * 100}
              min={0}
              max={FINISH_LIMITS.shadowDistance * 100}
              onCommit={(percent) => set({ shadow: { ...shadow, distance: percent / 100 } })}
            />
            <NumberField
              label={t('layout.softness')}
              unit="%"
              value={shadow.softness * 100}
              min={0}
              max={FINISH_LIMITS.shadowSoftness * 100}
              onCommit={(percent) => set({ shadow: { ...shadow, softness: percent / 100 } })}
            />
            <ColourField
              label={t('layout.colour')}
              value={shadow.colour}
              onChange={(colour) => set({ shadow: { ...shadow, colour } })}
            />
          </div>
        </>
      )}
      {JSON.stringify(finish) !== JSON.stringify(PLAIN_FINISH) && (
        <Button onClick={() => set(PLAIN_FINISH)} sx={{ mt: 0.5 }}>
          {t('layout.withoutEffects')}
        </Button>
      )}
    </>
  );
}

const AREA_FIELDS = [
  ['left', 'Left'],
  ['top', 'Top'],
  ['width', 'Width'],
  ['height', 'Height'],
] as const;

function AreaRow({
  number,
  area,
  onChange,
  onRemove,
}: {
  number: number;
  area: Area;
  onChange: (area: Area) => void;
  onRemove: () => void;
}) {
  const { t } = useTranslation();
  return (
    <div role="group" aria-label={t('layout.areaNumber', { number })} style={{ display: 'grid', gap: 4 }}>
      <div style={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
        <span className="quiet-note" style={{ margin: 0 }}>
          {t('layout.areaNumber', { number })}
        </span>
        <Button onClick={onRemove} aria-label={t('layout.removeAreaNumber', { number })}>
          {t('layout.remove')}
        </Button>
      </div>
      <div style={FIELD_GRID}>
        {AREA_FIELDS.map(([key, label]) => (
          <NumberField
            key={key}
            label={label}
            unit="%"
            digits={1}
            value={area[key] * 100}
            min={0}
            max={100}
            onCommit={(percent) => onChange({ ...area, [key]: percent / 100 })}
          />
        ))}
      </div>
    </div>
  );
}
