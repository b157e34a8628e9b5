import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { openingAt, type Opening } from '~/core/picture/opening';
import { fitToOpening, picturePoint } from '~/core/scene/fit-to-opening';
import { findRecord } from '~/core/show/document';
import { layersOfScene } from '~/core/show/layers';
import { placed } from '~/core/show/placing';
import { placeBelow } from '~/core/show/stage-edits';
import type { AnyRecord, LayerRecord } from '~/core/show/records';
import { findOpeningsOf } from '~/engine/picture/find-openings.client';
import type { FromOpenings } from '~/protocol/engine';
import { useStudio } from '../studio/studio-context';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

type Answer = Extract<FromOpenings, { openings: unknown }>;

/** Fits the chosen layer behind the transparent opening of a graphic that stands over it or was chosen with it. */
export function OpeningButton() {
  const { t } = useTranslation();
  const { say } = useStudio();
  const stage = useStage();
  const { document, scene, frame, movable, chosen } = stage;
  const [busy, setBusy] = useState(false);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);

  const assetOf = (layer: LayerRecord): string | null => {
    if (layer.content.type !== 'input') return null;
    const source = findRecord(document, 'input', layer.content.inputId)?.source;
    return source?.type === 'picture' ? source.assetId : null;
  };
  const graphics = layersOfScene(document, scene.id).filter(
    (l) => l.visible && l.placements[frame] && assetOf(l),
  );
  /** What goes behind: the chosen layer that is no graphic with a file of its own. */
  const behind =
    movable.find((l) => l.placements[frame] && !assetOf(l)) ?? (movable.length === 1 ? movable[0] : null);
  const offered = graphics.filter((g) => g.id !== behind?.id);
  const chosenGraphic = chosen.find((l) => offered.some((g) => g.id === l.id));

  const fit = (graphic: LayerRecord, answer: Answer, opening: Opening) => {
    const place = graphic.placements[frame];
    if (!behind || !place || graphic.content.type !== 'input') return;
    const fitted = fitToOpening(
      place,
      { width: answer.width, height: answer.height },
      graphic.content.fit,
      opening,
      behind.placements[frame]!,
    );
    const records = new Map<string, AnyRecord>();
    if (behind.sceneId === graphic.sceneId)
      for (const record of placeBelow(document, behind, graphic)) records.set(record.id, record);
    for (const record of placed(document, scene.id, frame, new Map([[behind.id, fitted]]))) {
      const moved = records.get(record.id);
      // One record may both move in the stack and be placed.
      records.set(
        record.id,
        moved?.kind === 'layer' && record.kind === 'layer'
          ? { ...moved, placements: record.placements }
          : record,
      );
    }
    const content =
      behind.content.type === 'input' ? ({ ...behind.content, fit: 'fill' } as const) : behind.content;
    const own = records.get(behind.id);
    if (own?.kind === 'layer') records.set(behind.id, { ...own, content });
    stage.edit(`Fit ${behind.name} to the opening of ${graphic.name}`, [...records.values()]);
    if (opening.peeking > 0)
      say(
        `${graphic.name} has an opening of an odd shape: ${behind.name} covers all of it, and about ${opening.peeking} pixels show outside.`,
      );
  };

  const search = async (graphic: LayerRecord) => {
    setBusy(true);
    const answer = await findOpeningsOf(assetOf(graphic)!);
    setBusy(false);
    if ('problem' in answer)
      return say(t('layout.nameCannotBeLookedThrough', { name: graphic.name, problem: answer.problem }));
    const [largest] = answer.openings;
    if (!largest) return say(t('layout.nameHasNoTransparentOpening', { name: graphic.name }));
    if (answer.openings.length === 1) return fit(graphic, answer, largest);
    // Several: the next press on the frame says which; beside them all it is the largest.
    stage.setPicking((on, at) => {
      stage.setPicking(null);
      const place = graphic.placements[frame];
      if (on !== frame || !place || graphic.content.type !== 'input') return;
      const point = picturePoint(place, answer, graphic.content.fit, at);
      fit(graphic, answer, openingAt(answer.openings, point) ?? largest);
    });
  };

  const press = (button: HTMLElement) => {
    if (!behind) return say(t('layout.chooseTheLayerThatGoes'));
    const graphic = chosenGraphic ?? (offered.length === 1 ? offered[0] : null);
    if (graphic) return void search(graphic);
    if (offered.length === 0) return say(t('layout.thereIsNoGraphicWith'));
    setAnchor(button);
  };

  return (
    <>
      <Button
        disabled={movable.length === 0 || busy}
        title={t('layout.fitsTheChosenLayerBehind')}
        onClick={(e) => (stage.picking ? stage.setPicking(null) : press(e.currentTarget))}
        sx={{ color: stage.picking ? 'var(--larch)' : undefined }}
      >
        {busy ? t('layout.looking') : stage.picking ? t('layout.pressAnOpening') : t('layout.fitToOpening')}
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {offered.map((graphic) => (
          <MenuItem
            key={graphic.id}
            onClick={() => {
              setAnchor(null);
              void search(graphic);
            }}
          >
            {graphic.name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
