import { useEffect, useState } from 'react';
import { endingsOf } from '~/core/rundown/checks';
import { segmentsOf } from '~/core/rundown/rundown';
import { findRecord, type ShowDocument } from '~/core/show/document';
import { assetUrl } from '~/engine/asset-url';

/** Lengths of files that were looked at, by their id, seconds; files never change. */
const known = new Map<string, number>();

async function secondsOf(assetId: string): Promise<number> {
  const found = known.get(assetId);
  if (found !== undefined) return found;
  const { ALL_FORMATS, Input, UrlSource } = await import('mediabunny');
  const file = new Input({ source: new UrlSource(assetUrl(assetId)), formats: ALL_FORMATS });
  try {
    const seconds = await file.computeDuration();
    known.set(assetId, seconds);
    return seconds;
  } finally {
    file.dispose();
  }
}

/** How long the clips take that end a segment, by input; null while that is not known. */
export function useClipLengths(
  document: ShowDocument,
  rundownId: string,
): (inputId: string) => number | null {
  const inputs = segmentsOf(document, rundownId)
    .filter(({ end, sceneId }) => end.type === 'clip' && sceneId !== null)
    .flatMap(({ sceneId, poseId }) => endingsOf(document, sceneId!, poseId).clipInputs);
  const files = inputs.flatMap((id) => {
    const source = findRecord(document, 'input', id)?.source;
    return source?.type === 'clips' ? source.files.map(({ assetId }) => assetId) : [];
  });
  const key = [...new Set(files)].join();
  const [, setRead] = useState(0);
  useEffect(() => {
    let gone = false;
    for (const assetId of key === '' ? [] : key.split(','))
      secondsOf(assetId).then(
        () => !gone && setRead((n) => n + 1),
        // A file that cannot be read is told where it is shown; here its length stays unknown.
        () => {},
      );
    return () => {
      gone = true;
    };
  }, [key]);
  return (inputId) => {
    const source = findRecord(document, 'input', inputId)?.source;
    if (source?.type !== 'clips') return null;
    const lengths = source.files.map(({ assetId }) => known.get(assetId));
    return lengths.every((length) => length !== undefined)
      ? lengths.reduce((sum, one) => sum + one!, 0)
      : null;
  };
}
