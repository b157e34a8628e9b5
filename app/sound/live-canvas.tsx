import { useEffect, useRef, type CSSProperties } from 'react';
import { themeColour } from '../theme/theme-colour';
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
  aside = false,
  style,
}: {
  height: number;
  draw: (drawing: LiveDrawing) => void;
  /** It stands beside what one is about: half as often will do. */
  aside?: boolean;
  style?: CSSProperties;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(draw);
  latest.current = draw;
  useEffect(() => {
    const element = canvas.current!;
    const context = element.getContext('2d')!;
    // Asked for its width at each frame, the browser would lay the page out at each frame.
    let width = element.clientWidth;
    let seen = true;
    const size = new ResizeObserver(() => (width = element.clientWidth));
    const sight = new IntersectionObserver((entries) => (seen = entries.at(-1)!.isIntersecting));
    size.observe(element);
    sight.observe(element);
    const end = paintTogether(() => {
      if (!seen) return;
      const ratio = devicePixelRatio;
      if (element.width !== Math.round(width * ratio) || element.height !== Math.round(height * ratio)) {
        element.width = Math.round(width * ratio);
        element.height = Math.round(height * ratio);
      }
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.clearRect(0, 0, width, height);
      latest.current({ context, width, height, colour: themeColour });
    }, aside);
    return () => {
      end();
      size.disconnect();
      sight.disconnect();
    };
  }, [height, aside]);
  return <canvas ref={canvas} aria-hidden style={{ display: 'block', width: '100%', height, ...style }} />;
}
