/** Test pictures, each a function of its size and the time. */
import type { TestPattern } from '../../core/show/inputs/test-picture';
import type { DrawContext } from './sources/picture-source';

/** 100/0/75/0 (ITU-R BT.471): white at its full level, colours at three quarters of theirs; red, green, blue of each bar. */
const BARS = ['#FFFFFF', '#BFBF00', '#00BFBF', '#00BF00', '#BF00BF', '#BF0000', '#0000BF', '#000000'];
const STEPS = 11;
/** Squares across the height of the grid. */
const ROWS = 9;
/** Kept free at each edge, parts of the size (EBU R 95): action, then words. */
const SAFE = [0.035, 0.05];

/** Fills (0, 0, width, height). */
export function paintTestPattern(
  context: DrawContext,
  pattern: TestPattern,
  width: number,
  height: number,
): void {
  switch (pattern) {
    case 'bars':
      return stripes(context, BARS, width, height);
    case 'steps': {
      const greys = Array.from({ length: STEPS }, (_, i) => {
        const level = Math.round((i * 255) / (STEPS - 1));
        return `rgb(${level} ${level} ${level})`;
      });
      return stripes(context, greys, width, height);
    }
    case 'grid':
      return grid(context, width, height);
  }
}

function stripes(context: DrawContext, colours: readonly string[], width: number, height: number): void {
  colours.forEach((colour, i) => {
    // Whole pixels: between two bars there is no third colour.
    const from = Math.round((i * width) / colours.length);
    const to = Math.round(((i + 1) * width) / colours.length);
    context.fillStyle = colour;
    context.fillRect(from, 0, to - from, height);
  });
}

function grid(context: DrawContext, width: number, height: number): void {
  context.fillStyle = '#3C4248';
  context.fillRect(0, 0, width, height);
  const step = height / ROWS;
  const half = Math.max(1, Math.round(height / 1080));
  const line = 2 * half;
  context.fillStyle = '#FFFFFF';
  // From the middle outwards and in whole pixels, so that both sides are alike at any size.
  const [midX, midY] = [Math.round(width / 2), Math.round(height / 2)];
  for (let at = 0; at <= midX; at += step)
    for (const x of [midX - Math.round(at), midX + Math.round(at)])
      context.fillRect(x - half, 0, line, height);
  for (let at = 0; at <= midY; at += step)
    for (const y of [midY - Math.round(at), midY + Math.round(at)])
      context.fillRect(0, y - half, width, line);
  context.lineWidth = line;
  context.strokeStyle = '#FFFFFF';
  context.beginPath();
  // A circle that looks like an egg: something between here and the viewer stretches the picture.
  context.arc(width / 2, height / 2, Math.min(width, height) * 0.45, 0, 2 * Math.PI);
  context.stroke();
  ['#E2AE45', '#63BDBB'].forEach((colour, i) => {
    context.strokeStyle = colour;
    context.strokeRect(
      width * SAFE[i],
      height * SAFE[i],
      width * (1 - 2 * SAFE[i]),
      height * (1 - 2 * SAFE[i]),
    );
  });
}

/** A line that goes across once a second. */
export function paintSweep(context: DrawContext, seconds: number, width: number, height: number): void {
  const wide = Math.max(2, Math.round(width / 160));
  context.fillStyle = '#10161B';
  context.fillRect(0, height * 0.9, width, height * 0.1);
  context.fillStyle = '#FFFFFF';
  context.fillRect((seconds % 1) * (width - wide), height * 0.9, wide, height * 0.1);
}
