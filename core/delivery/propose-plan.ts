import { perPixelAt, mbps, viewersOf100 } from './plan-advice';
import { shareEncodes, uploadKbps, type Recipient } from './encodes';
import type { FrameName, FramePlan, PlanSettings } from './settings';

export interface ProposalInput {
  /** Measured upload, kbps; sustained, not peak. */
  lineKbps: number;
  headroom: number;
  content: PlanSettings['content'];
  recipients: readonly Recipient[];
  /** Sizes of the frames that are made. */
  frames: Partial<Record<FrameName, { width: number; height: number }>>;
  /** The most this machine composes and encodes: pixels a second over all frames; null when it was not measured. */
  pixelsPerSecond: number | null;
}

export interface Proposal {
  plan: Omit<PlanSettings, 'effort' | 'encoder' | 'adaptive' | 'keep'>;
  /** One sentence for each value. */
  reasons: string[];
}

/** Short sides that platforms know, best first. */
const SHORT_SIDES = [1080, 720, 540, 480, 360] as const;
const FRAME_RATES: Record<PlanSettings['content'], readonly number[]> = { talk: [30], game: [60, 30] };
const AUDIO = { little: 64, common: 128, good: 160 } as const;
/** Nobody's screen shows more than this of a live picture. */
const MOST_USEFUL_KBPS = 9000;
/** Bits a pixel beyond this many times good ones show in no picture: a small picture does not take all of a fast line. */
const PLENTY = 3;

/**
 * Sizes, rates and shares that suit a line, with the reasons.
 * Rules: `headroom` of the line stays free; what is left is shared among destinations alike; sound gets 128 kbps, less when
 * everything is small; then the largest size whose bits a pixel are enough for the content.
 */
export function proposePlan(input: ProposalInput): Proposal {
  const { lineKbps, headroom, content, recipients, frames, pixelsPerSecond } = input;
  const usable = lineKbps * (1 - headroom);
  const count = Math.max(1, recipients.length);
  const reasons: string[] = [];
  const each = usable / count;
  const audioKbps = each < 1000 ? AUDIO.little : each > 5000 ? AUDIO.good : AUDIO.common;
  reasons.push(
    `${mbps(lineKbps)} Mbps upload; ${Math.round(headroom * 100)}% stay free for everything else, so ${mbps(usable)} Mbps are used.`,
  );
  if (count > 1) reasons.push(`${count} destinations share them: ${Math.round(each)} kbps each.`);
  reasons.push(
    audioKbps === AUDIO.little
      ? 'Sound gets 64 kbps: more would starve the picture.'
      : audioKbps === AUDIO.good
        ? 'Sound gets 160 kbps: there is room for it.'
        : 'Sound gets 128 kbps: good stereo, and it leaves the rest to the picture.',
  );
  const names = (Object.keys(frames) as FrameName[]).filter((name) => frames[name]);
  // A destination that takes little leaves its share to the others.
  const wishes = new Map<FrameName, number>();
  let left = usable;
  let waiting = [...recipients].sort((a, b) => limitOf(a, audioKbps) - limitOf(b, audioKbps));
  while (waiting.length > 0) {
    const [first, ...rest] = waiting;
    const share = Math.min(left / waiting.length, limitOf(first, audioKbps), MOST_USEFUL_KBPS);
    left -= share;
    wishes.set(first.frame, Math.max(wishes.get(first.frame) ?? 0, share));
    waiting = rest;
  }
  const fits: Partial<Record<FrameName, FramePlan>> = {};
  let fps: number = 30;
  const budget = names.map((name) => ({
    name,
    kbps: Math.max(
      150,
      Math.floor(((wishes.get(name) ?? Math.min(each, MOST_USEFUL_KBPS)) - audioKbps) / 50) * 50,
    ),
  }));
  choose: for (const rate of FRAME_RATES[content])
    for (const minimum of ['good', 'least'] as const) {
      const chosen = budget.map(({ name, kbps }) => ({
        name,
        kbps,
        size: largest(frames[name]!, kbps, rate, perPixelAt(rate, content)[minimum]),
      }));
      const pixels = chosen.reduce((sum, { size }) => sum + size.width * size.height * rate, 0);
      const small = chosen.some(({ name, size }) => {
        const shape = frames[name]!;
        return Math.min(size.width, size.height) < Math.min(480, shape.width, shape.height);
      });
      const last = rate === FRAME_RATES[content].at(-1) && minimum === 'least';
      if (!last && (small || (pixelsPerSecond !== null && pixels > pixelsPerSecond))) continue;
      fps = rate;
      for (const { name, kbps, size } of chosen) {
        const shrunk = shrink(frames[name]!, size, rate * chosen.length, pixelsPerSecond);
        const word = name === 'wide' ? 'Wide' : 'Tall';
        const plenty = shrunk.width * shrunk.height * rate * perPixelAt(rate, content).good * PLENTY;
        const useful = Math.min(kbps, Math.max(150, Math.ceil(plenty / 50_000) * 50));
        fits[name] = { ...shrunk, videoKbps: useful };
        reasons.push(
          shrunk.width < size.width
            ? `${word} is ${shrunk.width} × ${shrunk.height}: this machine does not make more in time.`
            : `${word} is ${shrunk.width} × ${shrunk.height}: the largest for which ${useful} kbps give a ${content === 'game' ? 'moving game' : 'talking picture'} enough bits a pixel.`,
        );
      }
      break choose;
    }
  reasons.push(
    fps === 60
      ? '60 fps, since the game moves fast and the connection has room.'
      : content === 'game' && FRAME_RATES.game.length > 1
        ? '30 fps: 60 would starve each of them here.'
        : '30 fps are enough for talk.',
  );
  reasons.push('A keyframe every 2 s, as platforms ask, at a constant rate.');
  const best = Math.max(...Object.values(fits).map((f) => f.videoKbps), 0) + audioKbps;
  reasons.push(
    `Viewers need ${mbps(best * 1.2)} Mbps: about ${viewersOf100(best * 1.2)} of 100 common connections carry it.`,
  );
  const plan = {
    frames: fits,
    fps,
    audioKbps,
    keyframeSeconds: 2,
    lineKbps,
    headroom,
    content,
  };
  const encodes = shareEncodes(plan, recipients, names);
  if (uploadKbps(encodes, audioKbps) > usable * 1.01)
    reasons.push(
      'This connection is too slow for all these destinations: switch one off, or see what the drawing says.',
    );
  return { plan, reasons };
}

/** The most a destination takes, sound included: a cap is of both, a rate of its own is of the picture. */
function limitOf({ capKbps, ownKbps }: Recipient, audioKbps: number): number {
  return Math.min(capKbps ?? Infinity, ownKbps === null ? Infinity : ownKbps + audioKbps);
}

/** The largest size known to platforms, of the frame's shape and not above it, with enough bits a pixel. */
function largest(
  shape: { width: number; height: number },
  kbps: number,
  fps: number,
  wanted: number,
): { width: number; height: number } {
  const sizes = sizesOf(shape);
  return sizes.find(({ width, height }) => (kbps * 1000) / (width * height * fps) >= wanted) ?? sizes.at(-1)!;
}

function shrink(
  shape: { width: number; height: number },
  size: { width: number; height: number },
  pictures: number,
  pixelsPerSecond: number | null,
): { width: number; height: number } {
  if (pixelsPerSecond === null) return size;
  const fitting = sizesOf(shape).filter(
    ({ width, height }) => width <= size.width && width * height * pictures <= pixelsPerSecond,
  );
  return fitting[0] ?? sizesOf(shape).at(-1)!;
}

/** Sizes of this shape, largest first, even, never above the frame itself. */
export function sizesOf(shape: { width: number; height: number }): { width: number; height: number }[] {
  const short = Math.min(shape.width, shape.height);
  return [short, ...SHORT_SIDES.filter((side) => side < short)].map((side) => sizeOf(shape, side));
}

/** The size of this shape whose shorter side is about `side`, both sides even, as H.264 with 4:2:0 asks for; 64 at least. */
export function sizeOf(
  shape: { width: number; height: number },
  side: number,
): { width: number; height: number } {
  const short = Math.min(shape.width, shape.height);
  const even = (length: number) => Math.max(64, Math.round(length / 2) * 2);
  return { width: even((shape.width * side) / short), height: even((shape.height * side) / short) };
}
