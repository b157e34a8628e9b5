import { box, DESIGN_HEIGHT, DESIGN_WIDTH, disc, type Context, type Painter } from './painter';

/** Flash and beep start together on every whole multiple of this. */
export const CLAP_EVERY_SECONDS = 2;
/** How long both last: three pictures at 30 a second, so no sampling misses it. */
export const CLAP_SECONDS = 0.1;

export function clapAt(seconds: number): boolean {
  return seconds - Math.floor(seconds / CLAP_EVERY_SECONDS) * CLAP_EVERY_SECONDS < CLAP_SECONDS - 1e-6;
}

/** Flash and beep together, for measuring sound against picture. */
export class SyncClapperPainter implements Painter {
  readonly width = DESIGN_WIDTH;
  readonly height = DESIGN_HEIGHT;

  paint(context: Context, seconds: number, width: number, height: number): void {
    const flash = clapAt(seconds);
    context.save();
    context.scale(width / DESIGN_WIDTH, height / DESIGN_HEIGHT);
    // Only the board flashes: a whole picture turning white looks like a change of scene to an encoder.
    box(context, 0, 0, DESIGN_WIDTH, DESIGN_HEIGHT, 0, '#1c2229');
    box(context, 660, 240, 600, 600, 40, flash ? '#ffffff' : '#101418');
    const part = (seconds / CLAP_EVERY_SECONDS) % 1;
    context.strokeStyle = flash ? '#101418' : '#63bdbb';
    context.lineWidth = 24;
    context.beginPath();
    context.arc(960, 540, 240, -Math.PI / 2, -Math.PI / 2 + part * Math.PI * 2);
    context.stroke();
    disc(context, 960, 540, 40, flash ? '#101418' : '#38424e');
    context.fillStyle = '#a7afb7';
    context.textAlign = 'center';
    context.font = '500 72px "JetBrains Mono Variable", monospace';
    context.fillText(seconds.toFixed(2), 960, 960);
    context.restore();
  }
}
