import type { BackgroundLook, BackgroundTexture } from '../../core/show/records';
import type { DrawContext } from './sources/picture-source';

/** The same numbers for the same seed, so that a texture looks alike at every size. */
function numbers(seed: number): () => number {
  let state = (seed * 2654435761 + 1) >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

export function paintBackground(
  context: DrawContext,
  look: BackgroundLook,
  width: number,
  height: number,
): void {
  switch (look.look) {
    case 'plain':
      context.fillStyle = look.colour;
      context.fillRect(0, 0, width, height);
      return;
    case 'gradient':
      context.fillStyle = gradientOf(context, look, width, height);
      context.fillRect(0, 0, width, height);
      return;
    case 'texture':
      context.fillStyle = look.colour;
      context.fillRect(0, 0, width, height);
      context.fillStyle = look.ink;
      context.strokeStyle = look.ink;
      TEXTURES[look.texture](context, numbers(look.seed), width, height);
  }
}

/** The line of a CSS linear-gradient: at angle 0 it runs upwards, and the corners get the full colours (css-images-3 §3.1.1). */
function gradientOf(
  context: DrawContext,
  look: Extract<BackgroundLook, { look: 'gradient' }>,
  width: number,
  height: number,
): CanvasGradient {
  let gradient: CanvasGradient;
  if (look.shape === 'radial')
    gradient = context.createRadialGradient(
      width / 2,
      height / 2,
      0,
      width / 2,
      height / 2,
      Math.hypot(width, height) / 2,
    );
  else {
    const angle = (look.angleDeg * Math.PI) / 180;
    const half = (Math.abs(width * Math.sin(angle)) + Math.abs(height * Math.cos(angle))) / 2;
    const [dx, dy] = [Math.sin(angle) * half, -Math.cos(angle) * half];
    gradient = context.createLinearGradient(width / 2 - dx, height / 2 - dy, width / 2 + dx, height / 2 + dy);
  }
  gradient.addColorStop(0, look.from);
  gradient.addColorStop(1, look.to);
  return gradient;
}

type Texture = (context: DrawContext, random: () => number, width: number, height: number) => void;

const TEXTURES: Record<BackgroundTexture, Texture> = {
  /** Layers of rock: bands that rise and fall a little. */
  strata: (context, random, width, height) => {
    const unit = height / 100;
    for (let y = 4 * unit; y < height + 10 * unit; y += (3 + random() * 6) * unit) {
      const [swing, phase, waves] = [(1 + random() * 3) * unit, random() * 6.28, 1 + random() * 2];
      context.globalAlpha = 0.25 + random() * 0.5;
      context.lineWidth = Math.max(1, (0.3 + random() * 1.6) * unit);
      context.beginPath();
      for (let i = 0; i <= 48; i++)
        context.lineTo((i / 48) * width, y + Math.sin(phase + (i / 48) * 6.28 * waves) * swing);
      context.stroke();
    }
    context.globalAlpha = 1;
  },
  dots: (context, _random, width, height) => {
    const step = height / 22;
    for (let row = 0; row * step < height + step; row++)
      for (let x = row % 2 === 0 ? 0 : step / 2; x < width + step; x += step) {
        context.beginPath();
        context.arc(x, row * step, step * 0.16, 0, Math.PI * 2);
        context.fill();
      }
  },
  weave: (context, _random, width, height) => {
    const step = height / 16;
    for (let row = 0; row * step < height; row++)
      for (let column = 0; column * step < width; column++) {
        const across = (row + column) % 2 === 0;
        context.globalAlpha = across ? 0.5 : 0.25;
        context.fillRect(
          column * step + step * 0.1,
          row * step + step * 0.1,
          step * (across ? 0.8 : 0.34),
          step * (across ? 0.34 : 0.8),
        );
      }
    context.globalAlpha = 1;
  },
  rain: (context, random, width, height) => {
    context.lineWidth = Math.max(1, height / 540);
    context.lineCap = 'round';
    for (let i = 0; i < 260; i++) {
      const [x, y, length] = [random() * width * 1.1, random() * height, (0.02 + random() * 0.06) * height];
      context.globalAlpha = 0.2 + random() * 0.6;
      context.beginPath();
      context.moveTo(x, y);
      context.lineTo(x - length * 0.25, y + length);
      context.stroke();
    }
    context.globalAlpha = 1;
  },
};
