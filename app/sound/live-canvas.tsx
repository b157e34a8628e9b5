import { useEffect, useRef, type CSSProperties } from 'react';
import { paintTogether } from './paint-together';

export interface LiveDrawing {
  context: CanvasRenderingContext2D;
  width: number;
  height: number;
  /** One of the theme's colours. */
  colour: (name: string) => string;
}

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
    return paintTogether(() => {
      const ratio = devicePixelRatio;
      const width = element.clientWidth;
      if (element.width !== Math.round(width * ratio) || element.height !== Math.round(height * ratio)) {
        element.width = Math.round(width * ratio);
        element.height = Math.round(height * ratio);
      }
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.clearRect(0, 0, width, height);
      latest.current({ context, width, height, colour });
    });
  }, [height]);
  return <canvas ref={canvas} aria-hidden style={{ display: 'block', width: '100%', height, ...style }} />;
}
