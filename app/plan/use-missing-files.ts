import { useEffect, useState } from 'react';
import { segmentsOf } from '~/core/rundown/rundown';
import { findRecord, type ShowDocument } from '~/core/show/document';
import { kindOf } from '~/core/show/input-kinds';
import { inputsOfScene } from '~/core/show/inputs-shown';
import { assetUrl } from '~/engine/asset-url';

/** Files that were asked for, by their id: whether they are gone. */
const known = new Map<string, boolean>();

/** Whether a file that a rundown's scenes show is gone; false while that is not known. */
export function useMissingFiles(document: ShowDocument, rundownId: string): (assetId: string) => boolean {
  const files = segmentsOf(document, rundownId).flatMap(({ sceneId, poseId }) =>
    sceneId === null
      ? []
      : [...inputsOfScene(document, sceneId, poseId)].flatMap((id) => {
          const source = findRecord(document, 'input', id)?.source;
          return source ? kindOf(source).files(source) : [];
        }),
  );
  const key = [...new Set(files)].join();
  const [, setRead] = useState(0);
  useEffect(() => {
    let over = false;
    for (const assetId of key === '' ? [] : key.split(','))
      if (!known.has(assetId))
        fetch(assetUrl(assetId), { method: 'HEAD' }).then(
          ({ status }) => {
            // What a server in trouble answers says nothing of the file.
            if (status === 200 || status === 404) known.set(assetId, status === 404);
            if (!over) setRead((n) => n + 1);
          },
          () => {},
        );
    return () => {
      over = true;
    };
  }, [key]);
  return (assetId) => known.get(assetId) ?? false;
}
