import type { Shape } from '../../core/show/records';
import type { DrawContext } from './sources/picture-source';

/** Puts the outline of a shape that fills (0, 0, width, height) into the context's path. */
export function shapePath(
  context: DrawContext,
  shape: Shape,
  width: number,
  height: number,
  cornerPx: number,
): void {
  const polygon = (points: readonly (readonly [number, number])[]) => {
    points.forEach(([x, y], i) =>
      i === 0 ? context.moveTo(x * width, y * height) : context.lineTo(x * width, y * height),
    );
    context.closePath();
  };
  context.beginPath();
  switch (shape) {
    case 'rectangle':
      context.roundRect(0, 0, width, height, cornerPx);
      return;
    case 'ellipse':
      context.ellipse(width / 2, height / 2, width / 2, height / 2, 0, 0, Math.PI * 2);
      return;
    case 'triangle':
      return polygon([
        [0.5, 0],
        [1, 1],
        [0, 1],
      ]);
    case 'diamond':
      return polygon([
        [0.5, 0],
        [1, 0.5],
        [0.5, 1],
        [0, 0.5],
      ]);
    case 'star':
      return polygon(
        Array.from({ length: 10 }, (_, i) => {
          const angle = -Math.PI / 2 + (i * Math.PI) / 5;
          const reach = i % 2 === 0 ? 0.5 : 0.2;
          return [0.5 + Math.cos(angle) * reach, 0.5 + Math.sin(angle) * reach] as const;
        }),
      );
    case 'arrow':
      return polygon([
        [0, 0.3],
        [0.62, 0.3],
        [0.62, 0],
        [1, 0.5],
        [0.62, 1],
        [0.62, 0.7],
        [0, 0.7],
      ]);
    case 'line':
      context.roundRect(0, height * 0.4, width, height * 0.2, Math.min(height * 0.1, width / 2));
      return;
  }
}
