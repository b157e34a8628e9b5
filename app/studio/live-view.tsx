import { createContext, useContext, useEffect, useRef } from 'react';
import type { Rect } from '~/core/geometry/rect';
import type { LiveCanvas } from '~/engine/live-canvas';
import type { ViewSubject } from '~/protocol/engine';
import { useStudio } from './studio-context';

/** The window a view stands in: the desk's page, or one that it opened. */
export const WindowId = createContext('desk');

/**
 * A live picture drawn by the stage worker into a canvas of its own; follows the size it is given.
 * With an empty label it is decoration of something that has a name already.
 */
export function LiveView({
  subject,
  label,
  part = null,
}: {
  subject: ViewSubject;
  label: string;
  /** The part of the frame to show magnified, frame pixels; null for all of it. */
  part?: Rect | null;
}) {
  const { desk } = useStudio();
  const windowId = useContext(WindowId);
  const about =
    subject.type === 'scene'
      ? `${subject.sceneId}/${subject.poseId}`
      : subject.type === 'input'
        ? `${subject.inputId}/${subject.bare ? 'bare' : ''}`
        : subject.type === 'alertPreview'
          ? subject.ruleId
          : '';
  return (
    <LiveCanvasBox
      by={desk}
      about={`${subject.type}/${subject.frame}/${about}`}
      label={label}
      part={part}
      add={(canvas, width, height) => desk.addView(canvas, subject, width, height, windowId)}
    />
  );
}

/** A canvas that somebody draws live; follows the size it is given. */
export function LiveCanvasBox({
  by,
  about,
  label,
  part = null,
  add,
}: {
  /** Who draws. */
  by: object;
  /** What is drawn: for something else, or by somebody else, there is a new canvas. */
  about: string;
  label: string;
  part?: Rect | null;
  /** Hands the canvas over. @returns what is said to whoever draws it; sizes in pixels */
  add: (canvas: HTMLCanvasElement, width: number, height: number) => LiveCanvas;
}) {
  const holder = useRef<HTMLDivElement>(null);
  const live = useRef<LiveCanvas | null>(null);
  const partNow = useRef(part);
  useEffect(() => {
    partNow.current = part;
    live.current?.setPart(part);
  }, [part]);
  useEffect(() => {
    const box = holder.current!;
    // A canvas can be handed over once only, so each mount makes its own.
    const { ownerDocument } = box;
    const own = ownerDocument.defaultView!;
    const canvas = ownerDocument.createElement('canvas');
    canvas.style.cssText = 'display:block;width:100%;height:100%';
    box.appendChild(canvas);
    const pixels = () => {
      // More than 1.5 pixels for each of the screen's costs the stage time that nobody sees.
      const ratio = Math.min(own.devicePixelRatio, 1.5);
      return [
        Math.max(16, Math.round(box.clientWidth * ratio)),
        Math.max(9, Math.round(box.clientHeight * ratio)),
      ] as const;
    };
    const view = add(canvas, ...pixels());
    live.current = view;
    view.setPart(partNow.current);
    const observer = new own.ResizeObserver(() => view.resize(...pixels()));
    observer.observe(box);
    const sight = new own.IntersectionObserver((entries) => view.see(entries.at(-1)!.isIntersecting));
    sight.observe(box);
    return () => {
      observer.disconnect();
      sight.disconnect();
      view.remove();
      live.current = null;
      canvas.remove();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [by, about]);
  const spoken = label === '' ? { 'aria-hidden': true } : { role: 'img', 'aria-label': label };
  return <div ref={holder} {...spoken} style={{ width: '100%', height: '100%', background: '#000' }} />;
}
