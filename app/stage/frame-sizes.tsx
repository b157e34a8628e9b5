import AspectRatioRounded from '@mui/icons-material/AspectRatioRounded';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { FRAME_NAMES, type FrameName } from '~/core/show/records';
import { resizedFrame } from '~/core/show/stage-edits';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { Toggle } from '../studio/toggle';
import { FIELD_GRID } from './field-layout';
import { nameOfFrame } from './stage-commands';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** Sizes of the two frames, and whether the show makes both. */
export function FrameSizes() {
  const { t } = useTranslation();
  const { document, edit } = useStage();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const show = recordsOf(document, 'show')[0];
  const size = (frame: FrameName, side: 'width' | 'height', value: number) =>
    edit(
      `Size of ${nameOfFrame(frame)}`,
      resizedFrame(document, frame, { ...show.frames[frame], [side]: Math.round(value) }),
    );
  return (
    <>
      <SmallButton label={t('layout.frameSizes')} onClick={(e) => setAnchor(e.currentTarget)}>
        <AspectRatioRounded />
      </SmallButton>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'right' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        slotProps={{ paper: { sx: { p: 1.5, width: 300 }, role: 'dialog', 'aria-label': 'Frame sizes' } }}
      >
        {FRAME_NAMES.map((frame) => {
          const { width, height, used } = show.frames[frame];
          const other = FRAME_NAMES.find((f) => f !== frame)!;
          return (
            <div key={frame} style={{ marginBottom: 8 }}>
              <Toggle
                label={`${nameOfFrame(frame)} is made`}
                on={used}
                onChange={(on) => {
                  // One frame at least: else there would be nothing to show.
                  if (!on && !show.frames[other].used) return;
                  edit(on ? `Make ${nameOfFrame(frame)}` : `Do without ${nameOfFrame(frame)}`, [
                    { ...show, frames: { ...show.frames, [frame]: { width, height, used: on } } },
                  ]);
                }}
              />
              <div style={FIELD_GRID}>
                <NumberField
                  label={t('layout.width')}
                  unit="px"
                  value={width}
                  min={16}
                  max={7680}
                  onCommit={(value) => size(frame, 'width', value)}
                />
                <NumberField
                  label={t('layout.height')}
                  unit="px"
                  value={height}
                  min={16}
                  max={7680}
                  onCommit={(value) => size(frame, 'height', value)}
                />
              </div>
            </div>
          );
        })}
        <p style={{ margin: '4px 0 0', fontSize: 12.5, color: 'var(--quiet)', lineHeight: 1.45 }}>
          {t('layout.layersKeepTheirPlaceAs')}
        </p>
      </Popover>
    </>
  );
}
