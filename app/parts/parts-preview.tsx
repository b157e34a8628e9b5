import PauseRounded from '@mui/icons-material/PauseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import Button from '@mui/material/Button';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { previewed } from '~/core/parts/preview';
import { recordsOf, type ShowDocument } from '~/core/show/document';
import { FRAME_NAMES } from '~/core/show/records';
import { PartsPreview } from '~/engine/parts-preview.client';
import { LiveCanvasBox } from '../studio/live-view';
import { PICTURE_FONTS } from '../studio/picture-fonts.client';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const calm = () => matchMedia('(prefers-reduced-motion: reduce)').matches;

/** The scenes one after the other, with their transitions and alerts, as made-up viewers set them off. */
export function PartsPreviewBox({ parts }: { parts: ShowDocument }) {
  const { t } = useTranslation();
  const { desk, say } = useStudio();
  const [preview, setPreview] = useState<PartsPreview | null>(null);
  useEffect(() => {
    const made = new PartsPreview(PICTURE_FONTS, say);
    setPreview(made);
    return () => made.close();
  }, [say]);
  useEffect(() => {
    if (!preview) return;
    const first = preview.snapshot().sceneId === null;
    preview.setDocument(previewed(parts));
    // Beside a broadcast it waits to be asked: viewers come first.
    if (first && !calm() && !desk.snapshot().live) preview.play(true);
  }, [desk, preview, parts]);
  return (
    <section className="parts-preview" aria-label={t('parts.preview')}>
      {preview && <Pictures preview={preview} parts={parts} />}
    </section>
  );
}

function Pictures({ preview, parts }: { preview: PartsPreview; parts: ShowDocument }) {
  const { t } = useTranslation();
  const { sceneId, playing } = useSyncExternalStore(preview.subscribe, preview.snapshot);
  const [{ frames }] = recordsOf(parts, 'show');
  const scenes = recordsOf(parts, 'scene');
  return (
    <>
      <div className="parts-preview-frames">
        {FRAME_NAMES.map((frame) => (
          <div
            key={frame}
            style={{ aspectRatio: `${frames[frame].width} / ${frames[frame].height}` }}
            data-testid={`preview-${frame}`}
          >
            <LiveCanvasBox
              by={preview}
              about={frame}
              label={t(`parts.previewOf.${frame}`)}
              add={(canvas, width, height) => preview.addView(canvas, frame, width, height)}
            />
          </div>
        ))}
      </div>
      <div className="parts-preview-scenes">
        <Button
          startIcon={playing ? <PauseRounded /> : <PlayArrowRounded />}
          onClick={() => preview.play(!playing)}
        >
          {t(playing ? 'parts.pause' : 'parts.play')}
        </Button>
        {scenes.map(({ id, name }) => (
          <Button
            key={id}
            aria-pressed={id === sceneId}
            onClick={() => {
              preview.play(false);
              preview.take(id);
            }}
          >
            {name}
          </Button>
        ))}
      </div>
    </>
  );
}
