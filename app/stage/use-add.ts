import { useCallback, useState } from 'react';
import { messageOf } from '~/core/fault';
import type { Size } from '~/core/geometry/rect';
import type { InputSource, LayerContent, ListedFile, Placements } from '~/core/show/records';
import { findRecord } from '~/core/show/document';
import { guessedPlacements } from '~/core/show/guessed-place';
import { fullPlacements, newInput, newInputWithLayer, newLayer } from '~/core/show/stage-edits';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { useStage } from './stage-context';
import { bringIn } from './upload-file';

const newId = () => crypto.randomUUID();

/** Ways to bring things into the scene, or, with the input list open, into the list alone. */
export function useAdd() {
  const { store, desk, say, showId } = useStudio();
  const { scene, select, selection, panel, setPanel, setInputId, edit } = useStage();
  const { t } = useTranslation();
  const [progress, setProgress] = useState<{ name: string; share: number } | null>(null);

  const addContent = useCallback(
    (name: string, content: LayerContent, placements: Placements) => {
      const layer = newLayer(store.document(), scene.id, newId(), name, content, placements);
      if (edit(`Add ${name}`, [layer])) select([layer.id]);
    },
    [store, scene.id, edit, select],
  );

  /**
   * @param inScene with a layer, also while the input list is open
   * @returns the new input's id
   */
  const addInput = useCallback(
    (name: string, source: InputSource, placements: Placements, inScene = false): string => {
      if (panel === 'inputs' && !inScene) {
        const input = newInput(store.document(), newId(), name, source);
        edit(`Add ${input.name}`, [input]);
        setInputId(input.id);
        return input.id;
      }
      const { records, input, layer } = newInputWithLayer(
        store.document(),
        scene.id,
        newId,
        name,
        source,
        placements,
      );
      if (edit(`Add ${input.name}`, records)) select([layer.id]);
      return input.id;
    },
    [panel, store, scene.id, edit, select, setInputId],
  );

  /** An input that wants an address next: its settings are opened. */
  const addAddressed = (name: string, source: InputSource) => {
    const id = addInput(
      name,
      source,
      source.type === 'page'
        ? fullPlacements(store.document())
        : guessedPlacements(store.document(), scene.id, source, { width: 16, height: 9 }, 0.5),
    );
    setInputId(id);
    setPanel('inputs');
  };

  const addScreen = async (surface: 'screen' | 'window' | 'region') => {
    const answer = await desk.askScreen(surface);
    if ('problem' in answer) return say(answer.problem);
    const { width = 16, height = 9, displaySurface } = answer.stream.getVideoTracks()[0].getSettings();
    const name =
      surface === 'region'
        ? 'Region'
        : displaySurface === 'window'
          ? 'Window'
          : displaySurface === 'browser'
            ? 'Tab'
            : 'Screen';
    const id = addInput(
      name,
      { type: 'screen', surface },
      guessedPlacements(store.document(), scene.id, { type: 'screen', surface }, { width, height }, 0.8),
    );
    desk.useScreen(id, answer.stream);
    return id;
  };

  /** Brings files in one after another, with progress. @returns those that came, in order */
  const takeFiles = async (
    files: readonly File[],
  ): Promise<{ file: File; listed: ListedFile; mime: string; size: Size }[]> => {
    const came: { file: File; listed: ListedFile; mime: string; size: Size }[] = [];
    try {
      for (const file of files) {
        setProgress({ name: file.name, share: 0 });
        try {
          const { asset, size } = await bringIn(`/show/${showId}/assets`, file, (share) =>
            setProgress({ name: file.name, share }),
          );
          came.push({
            file,
            listed: { assetId: asset.id, name: file.name.slice(0, 200) },
            mime: asset.mime,
            size,
          });
        } catch (error) {
          say(messageOf(error));
        }
      }
    } finally {
      setProgress(null);
    }
    return came;
  };

  /** The text that is chosen is written with it; without one it waits among the fonts. */
  const takeFont = (font: ListedFile) => {
    const chosen = selection.length === 1 ? findRecord(store.document(), 'layer', selection[0]) : undefined;
    if (!chosen || !('style' in chosen.content)) return say(t('fonts.dropped', { name: font.name }));
    const style = { ...chosen.content.style, ownFont: font };
    edit(t('fonts.used', { layer: chosen.name }), [{ ...chosen, content: { ...chosen.content, style } }]);
  };

  /** Each file becomes an input of its kind. @param inScene as `addInput` */
  const addFiles = async (files: readonly File[], inScene = false) => {
    for (const { file, listed, mime, size } of await takeFiles(files)) {
      if (mime.startsWith('audio/')) {
        say(`"${file.name}" is sound: add it in Sound, as music or as an effect.`);
        continue;
      }
      if (mime.startsWith('font/')) {
        takeFont(listed);
        continue;
      }
      const name = file.name.replace(/\.[^.]+$/, '').slice(0, 60) || 'File';
      const source = sourceOfFile(listed, mime);
      addInput(name, source, guessedPlacements(store.document(), scene.id, source, size, 0.5), inScene);
    }
  };

  /** Several files as one playlist or slide show. */
  const addList = async (type: 'clips' | 'slides', files: readonly File[]) => {
    const came = (await takeFiles(files)).filter(({ mime, file }) => {
      const fits = mime.startsWith(type === 'clips' ? 'video/' : 'image/');
      if (!fits)
        say(
          `"${file.name}" was left out: ${type === 'clips' ? 'a playlist takes videos' : 'a slide show takes pictures'}.`,
        );
      return fits;
    });
    if (came.length === 0) return;
    const listed = came.map((c) => c.listed);
    const source: InputSource =
      type === 'clips'
        ? { type, files: listed, order: 'listed', atEnd: 'loop', start: 'on-air' }
        : { type, files: listed, order: 'listed', intervalSeconds: 6, fadeSeconds: 0.6 };
    addInput(
      type === 'clips' ? 'Playlist' : 'Slides',
      source,
      guessedPlacements(
        store.document(),
        scene.id,
        source,
        type === 'clips' ? came[0].size : { width: 16, height: 9 },
        0.6,
      ),
    );
  };

  return { addContent, addInput, addAddressed, addScreen, addFiles, addList, takeFiles, progress };
}

function sourceOfFile(listed: ListedFile, mime: string): InputSource {
  if (mime.startsWith('video/'))
    return { type: 'clips', files: [listed], order: 'listed', atEnd: 'loop', start: 'always' };
  if (mime === 'application/lottie+json')
    return { type: 'lottie', assetId: listed.assetId, loop: true, speed: 1 };
  return { type: 'picture', assetId: listed.assetId, loop: true };
}
