import { useEffect } from 'react';
import { recordsOf } from '~/core/show/document';
import { useStudio } from './studio-context';

/** After this there is something to be seen. */
const FIRST_MS = 6000;
const EVERY_MS = 5 * 60_000;
const WIDTH = 640;
const QUALITY = 0.8;

/** Keeps what the show looks like for Home: a picture now and then, and none while nobody looks. */
export function ShowPicture() {
  const { desk, store, showId } = useStudio();
  useEffect(() => {
    const keep = () => {
      if (document.hidden) return;
      const { wide, tall } = recordsOf(store.document(), 'show')[0].frames;
      const port = desk.tap(wide.used ? 'wide' : 'tall', 1);
      port.onmessage = ({ data }: MessageEvent<VideoFrame | null>) => {
        if (data === null) return port.close();
        const frame = wide.used ? wide : tall;
        const canvas = new OffscreenCanvas(WIDTH, Math.round((WIDTH * frame.height) / frame.width));
        canvas.getContext('2d')!.drawImage(data, 0, 0, canvas.width, canvas.height);
        data.close();
        void canvas.convertToBlob({ type: 'image/jpeg', quality: QUALITY }).then((body) =>
          window
            .fetch(`/show/${showId}/picture`, { method: 'POST', body })
            // It is for looks alone: the next one is tried in some minutes.
            .catch(() => undefined),
        );
      };
    };
    const first = setTimeout(keep, FIRST_MS);
    const timer = setInterval(keep, EVERY_MS);
    return () => {
      clearTimeout(first);
      clearInterval(timer);
    };
  }, [desk, store, showId]);
  return null;
}
