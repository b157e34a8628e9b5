import { ALL_FORMATS, CanvasSink, Input, UrlSource } from 'mediabunny';
import { useEffect, useRef, useState } from 'react';
import { useTranslation } from '../words/words';

const PICTURES = 10;
const HEIGHT = 54;

/** Pictures along the length of a file; a press goes there. The part that is cut out is bright. */
export function ScrubStrip({
  source,
  seconds,
  from,
  to,
  onSeek,
}: {
  source: string;
  seconds: number;
  from: number;
  to: number;
  onSeek: (seconds: number) => void;
}) {
  const { t } = useTranslation();
  const [pictures, setPictures] = useState<readonly HTMLCanvasElement[]>([]);
  const [problem, setProblem] = useState('');
  useEffect(() => {
    let over = false;
    const input = new Input({ source: new UrlSource(source), formats: ALL_FORMATS });
    const look = async () => {
      const track = await input.getPrimaryVideoTrack();
      if (!track || !(await track.canDecode())) throw new Error('its pictures cannot be read here');
      const sink = new CanvasSink(track, { height: HEIGHT });
      const times = Array.from({ length: PICTURES }, (_, i) => ((i + 0.5) * seconds) / PICTURES);
      for await (const made of sink.canvasesAtTimestamps(times)) {
        if (over) return;
        if (made) setPictures((all) => [...all, made.canvas as HTMLCanvasElement]);
      }
    };
    setPictures([]);
    if (seconds > 0)
      look().catch((error: unknown) => {
        if (!over) setProblem(error instanceof Error ? error.message : String(error));
      });
    return () => {
      over = true;
      input.dispose();
    };
  }, [source, seconds]);
  const percent = (at: number) => `${(100 * at) / Math.max(0.001, seconds)}%`;
  return (
    <div style={{ position: 'relative', height: HEIGHT, marginTop: 8 }}>
      <button
        type="button"
        aria-label={t('vault.goToAPlaceIn')}
        onClick={(e) => {
          const { left, width } = e.currentTarget.getBoundingClientRect();
          // From the keyboard there is no place: the beginning.
          onSeek(e.detail === 0 ? 0 : ((e.clientX - left) / width) * seconds);
        }}
        style={{
          display: 'grid',
          gridTemplateColumns: `repeat(${PICTURES}, 1fr)`,
          width: '100%',
          height: HEIGHT,
          padding: 0,
          border: 0,
          borderRadius: 6,
          overflow: 'hidden',
          background: 'var(--ground)',
          cursor: 'pointer',
        }}
      >
        {pictures.map((canvas, i) => (
          <Picture key={i} canvas={canvas} />
        ))}
      </button>
      {[
        { left: 0, width: percent(from) },
        { left: percent(to), width: `calc(100% - ${percent(to)})` },
      ].map((shade, i) => (
        <span
          key={i}
          aria-hidden
          style={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            ...shade,
            background: 'var(--ground)',
            opacity: 0.72,
            pointerEvents: 'none',
          }}
        />
      ))}
      {problem && (
        <span style={{ position: 'absolute', left: 10, top: 16, color: 'var(--quiet)', fontSize: 12.5 }}>
          {problem}
        </span>
      )}
    </div>
  );
}

function Picture({ canvas }: { canvas: HTMLCanvasElement }) {
  const holder = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    canvas.style.width = '100%';
    canvas.style.height = '100%';
    canvas.style.objectFit = 'cover';
    holder.current?.replaceChildren(canvas);
  }, [canvas]);
  return <span ref={holder} style={{ overflow: 'hidden', height: HEIGHT }} />;
}
