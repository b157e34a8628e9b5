import { useEffect, useRef, type CSSProperties } from 'react';

export interface LiveDrawing {
  context: CanvasRenderingContext2D;
  width: number;
  height: number;
  /** One of the theme's colours. */
  colour: (name: string) => string;
}

/** Thirty a second is as fast as a meter can be read. */
const EVERY_MS = 30;

/** A canvas that is drawn again and again while it can be seen. */
export function LiveCanvas({
  height,
  draw,
  style,
}: {
  height: number;
  draw: (drawing: LiveDrawing) => void;
  style?: CSSProperties;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    const element = canvas.current!;
    const context = element.getContext('2d')!;
    const style = getComputedStyle(document.documentElement);
    const colour = (name: string) => style.getPropertyValue(`--${name}`).trim();
    let frame = 0;
    let last = 0;
    const paint = (time: number) => {
      frame = requestAnimationFrame(paint);
      if (time - last < EVERY_MS) return;
      last = time;
      const ratio = devicePixelRatio;
      const width = element.clientWidth;
      if (element.width !== Math.round(width * ratio) || element.height !== Math.round(height * ratio)) {
        element.width = Math.round(width * ratio);
        element.height = Math.round(height * ratio);
      }
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.clearRect(0, 0, width, height);
      latest.current({ context, width, height, colour });
    };
    frame = requestAnimationFrame(paint);
    return () => cancelAnimationFrame(frame);
  }, [height]);
  return <canvas ref={canvas} aria-hidden style={{ display: 'block', width: '100%', height, ...style }} />;
}
