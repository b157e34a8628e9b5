import { hash01 } from '../random';
import { gameAt, SIGNAL_AT, trackAt, trackPoints, TRACK_LENGTH_PX } from '../switchback-simulation';
import {
  box,
  DESIGN_HEIGHT,
  DESIGN_WIDTH,
  disc,
  shape,
  StillPart,
  type Context,
  type Painter,
} from './painter';

function drawLand(context: Context): void {
  const sky = context.createLinearGradient(0, 0, 0, 760);
  sky.addColorStop(0, '#26324f');
  sky.addColorStop(0.45, '#6b4a63');
  sky.addColorStop(0.8, '#c0685b');
  sky.addColorStop(1, '#e08e63');
  context.fillStyle = sky;
  context.fillRect(0, 0, DESIGN_WIDTH, DESIGN_HEIGHT);
  for (let i = 0; i < 70; i++) {
    context.globalAlpha = 0.25 + 0.6 * hash01(i * 7 + 3);
    disc(context, hash01(i) * 1920, hash01(i + 500) * 330, 1 + hash01(i + 900) * 1.6, '#f3e7d6');
  }
  context.globalAlpha = 1;
  crescent(context, 1560, 190, 46);
  shape(
    context,
    [
      [0, 700],
      [0, 520],
      [170, 400],
      [330, 500],
      [520, 330],
      [700, 520],
      [930, 380],
      [1130, 540],
      [1330, 350],
      [1560, 520],
      [1750, 400],
      [1920, 500],
      [1920, 720],
    ],
    '#5d5068',
  );
  shape(
    context,
    [
      [520, 330],
      [478, 382],
      [512, 370],
      [535, 396],
      [560, 372],
    ],
    '#caa091',
  );
  shape(
    context,
    [
      [1330, 350],
      [1290, 398],
      [1325, 386],
      [1348, 410],
      [1374, 386],
    ],
    '#caa091',
  );
  shape(
    context,
    [
      [0, 760],
      [0, 640],
      [260, 420],
      [470, 600],
      [640, 300],
      [905, 600],
      [1010, 420],
      [1240, 610],
      [1500, 440],
      [1740, 610],
      [1920, 520],
      [1920, 780],
    ],
    '#453f56',
  );
  shape(
    context,
    [
      [640, 300],
      [585, 378],
      [615, 366],
      [640, 402],
      [668, 360],
      [700, 372],
    ],
    '#e9b7a0',
  );
  shape(
    context,
    [
      [1010, 420],
      [962, 476],
      [998, 464],
      [1022, 492],
      [1046, 462],
    ],
    '#dba794',
  );
  shape(
    context,
    [
      [260, 420],
      [214, 470],
      [248, 462],
      [270, 486],
      [294, 458],
    ],
    '#d19f8f',
  );
  shape(
    context,
    [
      [0, 1080],
      [0, 700],
      [380, 610],
      [700, 560],
      [1200, 556],
      [1920, 560],
      [1920, 1080],
    ],
    '#2f3a3b',
  );
  shape(
    context,
    [
      [0, 1080],
      [0, 830],
      [420, 770],
      [980, 660],
      [1500, 700],
      [1920, 640],
      [1920, 1080],
    ],
    '#28332f',
  );
  shape(
    context,
    [
      [0, 1080],
      [0, 930],
      [560, 880],
      [1240, 800],
      [1920, 850],
      [1920, 1080],
    ],
    '#202a27',
  );
  for (let i = 0; i < 120; i++) {
    const x = hash01(i * 3 + 1) * 1920;
    const depth = hash01(i * 3 + 2);
    const y = 660 + depth * depth * 400;
    if (nearTrack(x, y)) continue;
    const size = 14 + depth * 34;
    const dark = depth > 0.55 ? '#18211f' : '#22302c';
    shape(
      context,
      [
        [x, y - size * 1.7],
        [x - size * 0.5, y],
        [x + size * 0.5, y],
      ],
      dark,
    );
    shape(
      context,
      [
        [x, y - size * 2.2],
        [x - size * 0.36, y - size * 0.8],
        [x + size * 0.36, y - size * 0.8],
      ],
      dark,
    );
  }
  context.lineCap = 'round';
  strokeTrack(context, 26, '#171b1c');
  strokeTrack(context, 16, '#6f6254', [5, 11]);
  strokeTrack(context, 3, '#c9b9a2');
  // The hut the evening collects for, with its window lit.
  box(context, 1500, 540, 84, 44, 3, '#3a2f2c');
  shape(
    context,
    [
      [1488, 544],
      [1542, 500],
      [1596, 544],
    ],
    '#5b4038',
  );
  box(context, 1530, 554, 20, 18, 2, '#f0c56a');
}

function crescent(context: Context, x: number, y: number, radius: number): void {
  context.fillStyle = '#f1dcb8';
  context.beginPath();
  context.arc(x, y, radius, -0.7 * Math.PI, 0.62 * Math.PI);
  context.arc(x - radius * 0.42, y - radius * 0.26, radius * 0.86, 0.56 * Math.PI, -0.6 * Math.PI, true);
  context.fill();
}

function nearTrack(x: number, y: number): boolean {
  return trackPoints().some(([px, py]) => Math.abs(px - x) < 46 && y > py - 26 && y < py + 80);
}

function strokeTrack(context: Context, width: number, colour: string, dash: number[] = []): void {
  context.strokeStyle = colour;
  context.lineWidth = width;
  context.setLineDash(dash);
  context.beginPath();
  for (const [x, y] of trackPoints()) context.lineTo(x, y);
  context.stroke();
  context.setLineDash([]);
}

const CARS = ['#e4573d', '#7d8f8c', '#7d8f8c', '#a98a5a', '#7d8f8c', '#5c6f78'] as const;
const CAR_PX = 82;

/** The game: land, train, signal, snow, and its own display. */
export class SwitchbackPainter implements Painter {
  readonly width = DESIGN_WIDTH;
  readonly height = DESIGN_HEIGHT;
  readonly #land = new StillPart(drawLand);

  paint(context: Context, seconds: number, width: number, height: number): void {
    const game = gameAt(seconds);
    this.#land.paint(context, width, height);
    context.save();
    context.scale(width / DESIGN_WIDTH, height / DESIGN_HEIGHT);
    this.#signal(context, game.signal);
    for (let i = CARS.length - 1; i >= 0; i--)
      this.#car(context, game.position - (i * CAR_PX) / TRACK_LENGTH_PX, i);
    this.#steam(context, game.position, game.effort, seconds);
    this.#snow(context, seconds, game.snowfall);
    this.#display(context, game.delayMinutes, game.altitudeM, game.signal);
    context.restore();
  }

  #signal(context: Context, signal: 'stop' | 'go'): void {
    const { x, y } = trackAt(SIGNAL_AT + 0.012);
    box(context, x - 4, y - 96, 8, 92, 3, '#12181a');
    box(context, x - 17, y - 138, 34, 60, 12, '#12181a');
    const lit = signal === 'go' ? '#8fce74' : '#f0633f';
    context.globalAlpha = 0.3;
    disc(context, x, y - (signal === 'go' ? 94 : 122), 22, lit);
    context.globalAlpha = 1;
    disc(context, x, y - 122, 9, signal === 'stop' ? lit : '#3a2622');
    disc(context, x, y - 94, 9, signal === 'go' ? lit : '#22301f');
  }

  #car(context: Context, part: number, index: number): void {
    if (part < -0.05 || part > 1.05) return;
    const { x, y, angle } = trackAt(part);
    context.save();
    context.translate(x, y);
    context.rotate(angle);
    // Round the bend the line runs leftwards: stay upright.
    if (Math.abs(angle) > Math.PI / 2) context.scale(1, -1);
    box(context, -36, -34, 72, 30, index === 0 ? 9 : 4, CARS[index]);
    box(context, -34, -8, 68, 6, 2, '#15191b');
    if (index === 0) {
      box(context, 8, -46, 18, 16, 3, '#b8412c');
      box(context, -26, -28, 20, 11, 2, '#f4d48a');
      disc(context, 36, -18, 5, '#fff1c9');
    }
    context.restore();
  }

  #steam(context: Context, position: number, effort: number, seconds: number): void {
    if (effort <= 0.02) return;
    const { x, y } = trackAt(position);
    for (let i = 0; i < 7; i++) {
      const age = (seconds * 1.4 + i / 7) % 1;
      context.globalAlpha = 0.32 * effort * (1 - age);
      disc(context, x + 8 - age * 70, y - 50 - age * 90, 10 + age * 34, '#e6dcd6');
    }
    context.globalAlpha = 1;
  }

  #snow(context: Context, seconds: number, amount: number): void {
    context.fillStyle = '#f1ece4';
    const count = Math.round(130 * amount);
    for (let i = 0; i < count; i++) {
      const speed = 40 + 90 * hash01(i + 31);
      const y = (hash01(i) * 1200 + seconds * speed) % 1200;
      const x = (hash01(i + 77) * 2100 + 40 * Math.sin(seconds * 0.7 + i) - seconds * 24 + 21_000) % 2100;
      const size = 2 + 3 * hash01(i + 11);
      context.fillRect(x - 90, y - 60, size, size);
    }
  }

  #display(context: Context, delayMinutes: number, altitudeM: number, signal: 'stop' | 'go'): void {
    context.globalAlpha = 0.72;
    box(context, 48, 40, 430, 142, 16, '#12171b');
    context.globalAlpha = 1;
    context.fillStyle = '#ece8e1';
    context.textAlign = 'left';
    context.textBaseline = 'alphabetic';
    context.font = '500 40px "JetBrains Mono Variable", monospace';
    context.fillText(`Freight 12  +0${delayMinutes}`, 76, 98);
    context.fillText(`Pass ${altitudeM.toLocaleString('en')} m`, 76, 154);
    disc(context, 436, 142, 11, signal === 'go' ? '#8fce74' : '#f0633f');
  }
}
