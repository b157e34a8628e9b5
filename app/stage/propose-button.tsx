import Button from '@mui/material/Button';
import { useEffect, useRef, useState } from 'react';
import { proposePlacements } from '~/core/scene/propose';
import { proposedLayers } from '~/core/scene/roles';
import { layersOfScene } from '~/core/show/layers';
import { placed } from '~/core/show/placing';
import type { FrameName } from '~/core/show/records';
import { frameOf, usedFrames } from '~/core/show/stage-edits';
import { useStudio } from '../studio/studio-context';
import { nameOfFrame } from './stage-commands';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** Proposes placements for the other frame: shown on it at once, and kept only when taken. */
export function ProposeButton() {
  const { t } = useTranslation();
  const { store } = useStudio();
  const { document, scene, frame, shown, setShown, inputSize, base: baseNow, written } = useStage();
  const [proposed, setProposed] = useState<FrameName | null>(null);
  const pending = useRef(false);
  useEffect(() => {
    pending.current = proposed !== null;
  }, [proposed]);
  // Another scene or place: a proposal that was not taken is not left standing on the frame.
  useEffect(
    () => () => {
      if (pending.current) store.cancel();
    },
    [store],
  );
  const other = usedFrames(document).find((f) => f !== frame);
  if (!other && proposed === null) return null;
  const records = (to: FrameName) => {
    const base = baseNow();
    const from: FrameName = to === 'wide' ? 'tall' : 'wide';
    const layers = layersOfScene(base, scene.id).filter((l) => l.visible);
    const placements = proposePlacements(
      proposedLayers(base, layers, from, inputSize),
      frameOf(base, from),
      frameOf(base, to),
    );
    return written(placed(base, scene.id, to, placements));
  };
  const propose = (to: FrameName) => {
    if (shown !== 'both') setShown('both');
    setProposed(to);
    store.preview(records(to));
  };
  if (proposed !== null)
    return (
      <span
        role="group"
        aria-label={t('layout.proposal')}
        style={{
          display: 'flex',
          alignItems: 'center',
          gap: 6,
          padding: '0 6px 0 10px',
          borderRadius: 8,
          background: 'color-mix(in srgb, var(--larch) 16%, var(--ground))',
          fontSize: 12.5,
          whiteSpace: 'nowrap',
        }}
      >
        {`Proposed ${nameOfFrame(proposed)}`}
        <Button
          onClick={() => {
            const to = proposed;
            const put = records(to);
            setProposed(null);
            store.edit(`Propose ${nameOfFrame(to)}`, put);
          }}
          sx={{ color: 'var(--glacier)' }}
        >
          {t('layout.apply')}
        </Button>
        <Button
          onClick={() => {
            setProposed(null);
            store.cancel();
          }}
        >
          {t('layout.discard')}
        </Button>
      </span>
    );
  return (
    <Button
      title={`Places every layer of ${nameOfFrame(frame)} in ${nameOfFrame(other!)}; you see it before you take it`}
      onClick={() => propose(other!)}
    >
      {`Propose ${nameOfFrame(other!)}`}
    </Button>
  );
}
