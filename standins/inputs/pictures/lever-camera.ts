import { hash01, smooth } from '../random';
import { gameAt } from '../switchback-simulation';
import { box, DESIGN_HEIGHT, DESIGN_WIDTH, disc, StillPart, type Context, type Painter } from './painter';

const LEVERS = ['#c9573f', '#c9573f', '#5f8f8b', '#d8a748', '#5f8f8b', '#c9573f', '#7c8790'] as const;

function drawFrameRoom(context: Context): void {
  const wood = context.createLinearGradient(0, 0, 0, DESIGN_HEIGHT);
  wood.addColorStop(0, '#2b2421');
  wood.addColorStop(1, '#4b3a30');
  context.fillStyle = wood;
  context.fillRect(0, 0, DESIGN_WIDTH, DESIGN_HEIGHT);
  for (let i = 0; i < 9; i++) {
    context.globalAlpha = 0.25;
    box(context, 0, i * 124 + 20 * hash01(i), DESIGN_WIDTH, 4, 0, '#1b1613');
  }
  context.globalAlpha = 1;
  box(context, 90, 700, 1740, 150, 18, '#23282c');
  box(context, 90, 700, 1740, 16, 8, '#39424a');
  for (let i = 0; i < LEVERS.length; i++) box(context, 236 + i * 226, 730, 34, 90, 14, '#0f1214');
}

/** Hands at the levers of a signal box: pulls one whenever the signal in the game changes. */
export class LeverCameraPainter implements Painter {
  readonly width = DESIGN_WIDTH;
  readonly height = DESIGN_HEIGHT;
  readonly #room = new StillPart(drawFrameRoom);

  paint(context: Context, seconds: number, width: number, height: number): void {
    this.#room.paint(context, width, height);
    context.save();
    context.scale(width / DESIGN_WIDTH, height / DESIGN_HEIGHT);
    const game = gameAt(seconds);
    const pulled = game.signal === 'go' ? smooth(game.signalAge / 0.7) : 1 - smooth(game.signalAge / 0.7);
    const tilts = LEVERS.map((_, i) => (i === 3 ? pulled : smooth(hash01(i + game.climb * 7) * 2 - 0.6)));
    tilts.forEach((tilt, i) => this.#lever(context, 253 + i * 226, tilt, LEVERS[i]));
    const resting = Math.sin(seconds * 0.9) * 10;
    const reach = smooth(1 - Math.abs(game.signalAge - 0.35) / 1.6);
    const grip = this.#gripOf(253 + 3 * 226, tilts[3]);
    this.#hand(
      context,
      1500 + (grip.x - 1500) * reach,
      1010 + resting + (grip.y + 40 - 1010 - resting) * reach,
      -0.25,
    );
    this.#hand(context, 560 + Math.sin(seconds * 0.6) * 18, 1000 + Math.cos(seconds * 0.8) * 8, 0.3);
    context.restore();
  }

  #gripOf(x: number, tilt: number): { x: number; y: number } {
    const angle = -0.16 + tilt * 0.44;
    return { x: x + Math.sin(angle) * 560, y: 780 - Math.cos(angle) * 560 };
  }

  #lever(context: Context, x: number, tilt: number, colour: string): void {
    context.save();
    context.translate(x, 780);
    context.rotate(-0.16 + tilt * 0.44);
    box(context, -13, -520, 26, 520, 10, '#a9b0b5');
    box(context, -13, -420, 26, 190, 6, colour);
    box(context, -20, -590, 40, 110, 18, '#d9dde0');
    box(context, -20, -330, 40, 46, 6, '#f1ece4');
    context.restore();
  }

  #hand(context: Context, x: number, y: number, turn: number): void {
    context.save();
    context.translate(x, y);
    context.rotate(turn);
    box(context, -74, 60, 148, 420, 60, '#a8503b');
    disc(context, 0, 20, 84, '#dfa985');
    for (let i = 0; i < 4; i++)
      box(context, -74 + i * 38, -86 + Math.abs(i - 1.5) * 10, 34, 120, 17, '#dfa985');
    box(context, 62, -20, 40, 100, 20, '#d59b77');
    context.restore();
  }
}
