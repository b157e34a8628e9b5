import { hash01, smooth } from '../random';
import { voiceLevelAt } from '../voice-script';
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

/** The green of the screen behind the host; colour keys are tried on it. */
function drawRoom(context: Context): void {
  const cloth = context.createLinearGradient(0, 0, DESIGN_WIDTH, 0);
  cloth.addColorStop(0, '#2a834f');
  cloth.addColorStop(0.5, '#34985e');
  cloth.addColorStop(1, '#2a844f');
  context.fillStyle = cloth;
  context.fillRect(0, 0, DESIGN_WIDTH, DESIGN_HEIGHT);
  context.globalAlpha = 0.12;
  for (let i = 0; i < 7; i++) {
    const x = 120 + i * 290;
    shape(
      context,
      [
        [x, 0],
        [x + 50, 0],
        [x + 24, 1080],
        [x - 16, 1080],
      ],
      i % 2 ? '#1f6b40' : '#47b074',
    );
  }
  context.globalAlpha = 1;
}

/** A drawn host before a green screen: breathes, looks about, blinks, and moves the mouth to the made-up voice. */
export class DeskCameraPainter implements Painter {
  readonly width = DESIGN_WIDTH;
  readonly height = DESIGN_HEIGHT;
  readonly #room = new StillPart(drawRoom);

  paint(context: Context, seconds: number, width: number, height: number): void {
    this.#room.paint(context, width, height);
    context.save();
    context.scale(width / DESIGN_WIDTH, height / DESIGN_HEIGHT);
    const breath = Math.sin(seconds * 1.3) * 6;
    const sway = Math.sin(seconds * 0.53) * 22 + Math.sin(seconds * 0.21 + 2) * 14;
    const tilt = Math.sin(seconds * 0.41 + 1) * 0.045;
    this.#body(context, sway * 0.5, breath);
    context.save();
    context.translate(960 + sway, 500 + breath);
    context.rotate(tilt);
    this.#head(context, seconds);
    context.restore();
    this.#desk(context);
    this.#microphone(context);
    context.restore();
  }

  #body(context: Context, sway: number, breath: number): void {
    context.fillStyle = '#a8503b';
    context.beginPath();
    context.moveTo(560 + sway, 1080);
    context.bezierCurveTo(560 + sway, 800 + breath, 720 + sway, 730 + breath, 960 + sway, 730 + breath);
    context.bezierCurveTo(1200 + sway, 730 + breath, 1360 + sway, 800 + breath, 1360 + sway, 1080);
    context.fill();
    context.fillStyle = '#8f4130';
    for (const x of [860, 1030]) context.fillRect(x + sway, 770 + breath, 22, 320);
    shape(
      context,
      [
        [880 + sway, 700 + breath],
        [1040 + sway, 700 + breath],
        [1010 + sway, 790 + breath],
        [910 + sway, 790 + breath],
      ],
      '#c48a68',
    );
  }

  #head(context: Context, seconds: number): void {
    // hair behind, ears, face
    disc(context, 0, -40, 218, '#2c221f');
    disc(context, -186, 30, 36, '#d59b77');
    disc(context, 186, 30, 36, '#d59b77');
    context.fillStyle = '#dfa985';
    context.beginPath();
    context.ellipse(0, 20, 184, 222, 0, 0, Math.PI * 2);
    context.fill();
    context.fillStyle = '#2c221f';
    context.beginPath();
    context.ellipse(-20, -150, 190, 96, -0.12, Math.PI * 0.95, Math.PI * 2.05);
    context.bezierCurveTo(120, -120, 60, -104, -30, -112);
    context.bezierCurveTo(-110, -116, -170, -90, -196, -40);
    context.fill();
    // headphones
    context.strokeStyle = '#20262d';
    context.lineWidth = 26;
    context.beginPath();
    context.arc(0, -10, 226, Math.PI * 1.06, Math.PI * 1.94);
    context.stroke();
    box(context, -246, -30, 52, 130, 22, '#20262d');
    box(context, 194, -30, 52, 130, 22, '#20262d');
    box(context, -238, 0, 12, 70, 6, '#63bdbb');
    box(context, 226, 0, 12, 70, 6, '#63bdbb');

    const gaze = Math.sin(seconds * 0.37) > 0.55 ? 14 : Math.sin(seconds * 0.29 + 1) > 0.7 ? -14 : 0;
    const open = eyesOpen(seconds);
    for (const side of [-1, 1]) {
      const x = side * 74;
      context.fillStyle = '#f6efe6';
      context.beginPath();
      context.ellipse(x, -8, 34, Math.max(2, 24 * open), 0, 0, Math.PI * 2);
      context.fill();
      if (open > 0.35) disc(context, x + gaze, -6, 13, '#3a2a22');
      context.strokeStyle = '#33261f';
      context.lineWidth = 11;
      context.lineCap = 'round';
      context.beginPath();
      context.moveTo(x - 38, -58 - side * 2);
      context.quadraticCurveTo(x, -76, x + 38, -58 + side * 2);
      context.stroke();
    }
    context.strokeStyle = '#bb815f';
    context.lineWidth = 9;
    context.beginPath();
    context.moveTo(4, 10);
    context.quadraticCurveTo(26, 70, -8, 76);
    context.stroke();
    const mouth = voiceLevelAt(seconds);
    context.fillStyle = '#6d2d27';
    context.beginPath();
    context.ellipse(0, 134, 52 - mouth * 8, 7 + mouth * 36, 0, 0, Math.PI * 2);
    context.fill();
    if (mouth > 0.3) box(context, -30, 116 - mouth * 14, 60, 10, 4, '#f2e8dd');
  }

  #desk(context: Context): void {
    box(context, -20, 1000, 1960, 100, 0, '#3a2e29');
    box(context, -20, 1000, 1960, 10, 0, '#57463d');
    box(context, 300, 936, 150, 70, 14, '#d8cbb8');
    context.strokeStyle = '#d8cbb8';
    context.lineWidth = 14;
    context.beginPath();
    context.arc(300, 968, 24, Math.PI * 0.5, Math.PI * 1.5);
    context.stroke();
  }

  #microphone(context: Context): void {
    context.strokeStyle = '#171c21';
    context.lineWidth = 20;
    context.lineCap = 'round';
    context.beginPath();
    context.moveTo(1640, 1010);
    context.lineTo(1560, 760);
    context.lineTo(1310, 742);
    context.stroke();
    box(context, 1220, 640, 108, 190, 50, '#171c21');
    context.globalAlpha = 0.4;
    for (let i = 0; i < 6; i++) box(context, 1232, 660 + i * 20, 84, 6, 3, '#4a5662');
    context.globalAlpha = 1;
    disc(context, 1274, 806, 8, '#f0633f');
  }
}

/** 1 open, 0 shut: a blink every few seconds, at times two. */
function eyesOpen(seconds: number): number {
  const slot = Math.floor(seconds / 3.1);
  const at = 0.4 + hash01(slot) * 2.2;
  const since = seconds - slot * 3.1 - at;
  const blink = (s: number) => (s < 0 || s > 0.22 ? 1 : Math.abs(s - 0.11) / 0.11);
  return smooth(Math.min(blink(since), hash01(slot + 99) > 0.7 ? blink(since - 0.3) : 1));
}
