import { useSyncExternalStore, type CSSProperties } from 'react';
import { recordsOf } from '~/core/show/document';
import { FRAME_NAMES } from '~/core/show/records';
import type { ViewSubject } from '~/protocol/engine';
import { LiveView } from './live-view';
import { useStudio } from './studio-context';

type Subject = ViewSubject extends infer S ? (S extends { type: string } ? Omit<S, 'frame'> : never) : never;

/** Wide and Tall of one thing side by side, at the same height, as large as their box. */
export function FramePair({
  subject,
  label,
  gap = 8,
  edge,
}: {
  subject: Subject;
  /** Empty for decoration of something that has a name already. */
  label: string;
  gap?: number;
  edge?: CSSProperties;
}) {
  const { store } = useStudio();
  // Only the frames' sizes matter here: a drag in the editor must not draw forty scene cards anew.
  const sizes = useSyncExternalStore(store.subscribe, () => recordsOf(store.document(), 'show')[0].frames);
  const frames = FRAME_NAMES.filter((frame) => sizes[frame].used).map((frame) => ({
    frame,
    aspect: sizes[frame].width / sizes[frame].height,
  }));
  const sum = frames.reduce((total, { aspect }) => total + aspect, 0);
  return (
    <div
      style={{
        display: 'flex',
        gap,
        aspectRatio: String(sum),
        // As wide as the height of its container allows, where one gives its size; else all of the width.
        width: `min(100%, calc(100cqh * ${sum}))`,
        maxWidth: '100%',
        maxHeight: '100%',
        margin: '0 auto',
        minHeight: 0,
      }}
    >
      {frames.map(({ frame, aspect }) => (
        <div
          key={frame}
          style={{
            flex: `${aspect} 1 0`,
            minWidth: 0,
            overflow: 'hidden',
            borderRadius: 4,
            boxSizing: 'border-box',
            ...edge,
          }}
        >
          <LiveView
            subject={{ ...subject, frame } as ViewSubject}
            label={label && `${label}, ${frame === 'wide' ? 'Wide' : 'Tall'}`}
          />
        </div>
      ))}
    </div>
  );
}
