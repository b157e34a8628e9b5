import { useLayoutEffect, useRef, useState } from 'react';
import { frameOf, usedFrames } from '~/core/show/stage-edits';
import { FrameEditor } from './frame-editor';
import { useStage } from './stage-context';
import { boardSizes } from './view-part';

const GAP = 14;
const TITLE = 26;
/** Handles of what stands at a frame's edge reach over it by so much. */
const EDGE = 8;

/** The frames side by side, each editable, as large as there is room. */
export function FrameBoard() {
  const { document, shown } = useStage();
  const board = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 740, height: 480 });
  useLayoutEffect(() => {
    const box = board.current!;
    const measure = () =>
      setRoom({ width: box.clientWidth - 2 * EDGE, height: box.clientHeight - TITLE - EDGE });
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(box);
    return () => observer.disconnect();
  }, []);
  const used = usedFrames(document);
  const frames = used.filter((frame) => shown === 'both' || shown === frame || used.length === 1);
  const sizes = boardSizes(
    room,
    frames.map((frame) => frameOf(document, frame)),
    GAP,
  );
  return (
    <div
      ref={board}
      style={{
        display: 'flex',
        gap: GAP,
        alignItems: 'flex-start',
        alignContent: 'center',
        flexWrap: 'wrap',
        justifyContent: 'center',
        minHeight: 0,
        minWidth: 0,
        height: '100%',
        overflow: 'hidden',
        boxSizing: 'border-box',
        padding: `0 ${EDGE}px ${EDGE}px`,
      }}
    >
      {frames.map((frame, i) => (
        <FrameEditor key={frame} frame={frame} size={sizes[i]} />
      ))}
    </div>
  );
}
