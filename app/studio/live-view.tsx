import { useEffect, useRef } from 'react';
import type { ViewSubject } from '~/protocol/engine';
import { useStudio } from './studio-context';

/**
 * A live picture drawn by the stage worker into a canvas of its own; follows the size it is given.
 * With an empty label it is decoration of something that has a name already.
 */
export function LiveView({ subject, label }: { subject: ViewSubject; label: string }) {
  const { desk } = useStudio();
  const holder = useRef<HTMLDivElement>(null);
  const key = subject.type === 'scene' ? subject.sceneId : subject.type;
  useEffect(() => {
    const box = holder.current!;
    // A canvas can be handed over once only, so each mount makes its own.
    const canvas = document.createElement('canvas');
    canvas.style.cssText = 'display:block;width:100%;height:100%';
    box.appendChild(canvas);
    const pixels = () => {
      // More than 1.5 pixels for each of the screen's costs the stage time that nobody sees.
      const ratio = Math.min(devicePixelRatio, 1.5);
      return [
        Math.max(16, Math.round(box.clientWidth * ratio)),
        Math.max(9, Math.round(box.clientHeight * ratio)),
      ] as const;
    };
    const view = desk.addView(canvas, subject, ...pixels());
    const observer = new ResizeObserver(() => view.resize(...pixels()));
    observer.observe(box);
    return () => {
      observer.disconnect();
      view.remove();
      canvas.remove();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [desk, key]);
  const spoken = label === '' ? { 'aria-hidden': true } : { role: 'img', 'aria-label': label };
  return <div ref={holder} {...spoken} style={{ width: '100%', height: '100%', background: '#000' }} />;
}
