/** What holds a broadcast up, by cause, with what to do about it. */
import type { PlanStep } from './plan-steps';

/** One second of a broadcast. Counts are of that second. */
export interface HealthSample {
  atMs: number;
  fps: number;
  due: number;
  /** Pictures a second that are wanted now, and that the plan wants. */
  pace: number;
  planFps: number;
  /** How large it is drawn, in parts of each side of what is sent. */
  scale: number;
  /** Not composed in time. */
  skipped: number;
  /** The encoder could not take it. */
  encoderBusy: number;
  /** Left out to keep the rate. */
  leftOut: number;
  /** What the way to the relay could not carry. */
  lineDropped: number;
  unackedMs: number;
  kbps: number;
  /** Share of the plan that is sent, 0…1. */
  share: number;
  destinations: { id: string; name: string; kbps: number; dropped: number; lagMs: number; state: string }[];
}

export const CAUSES = ['composition', 'encoder', 'line', 'destination'] as const;
export type Cause = (typeof CAUSES)[number];

export const CAUSE_WORDS: Record<Cause, string> = {
  composition: 'Rendering slow',
  encoder: 'Encoder slow',
  line: 'Connection slow',
  destination: 'Destination slow',
};

export interface HealthAdvice {
  cause: Cause;
  /** Which destination, where it is one. */
  destination: string | null;
  /** What is wrong, what viewers see, what to do. */
  text: string;
  /** Changes of the plan that help, best first. */
  steps: readonly PlanStep[];
}

/** Looked at: the last seconds. */
const LOOK_SECONDS = 10;
/** Share of pictures lost that is worth a word. */
const LOST = 0.02;

/** What is wrong over the last seconds, worst first; empty when all is well. */
export function adviseHealth(samples: readonly HealthSample[]): HealthAdvice[] {
  const recent = samples.slice(-LOOK_SECONDS);
  const last = recent.at(-1);
  if (!last) return [];
  const sum = (of: (s: HealthSample) => number) => recent.reduce((all, s) => all + of(s), 0);
  const due = Math.max(
    1,
    sum((s) => s.due),
  );
  const advice: HealthAdvice[] = [];
  const lostDestinations = last.destinations.filter((d) =>
    ['stalled', 'refused', 'unreachable'].includes(d.state),
  );
  const all = last.destinations.length;
  if (last.share < 0.95 || last.unackedMs > 1500)
    advice.push({
      cause: 'line',
      destination: null,
      text:
        last.share < 0.95
          ? `The connection carries ${Math.round(last.share * 100)}% of the plan: viewers see softer video, nothing is dropped. Stop other uploads, or switch a destination off.`
          : `The way to the relay is ${(last.unackedMs / 1000).toFixed(1)} s behind. Stop other uploads on this computer.`,
      steps: ['lowerRate', 'smaller'],
    });
  for (const d of lostDestinations)
    advice.push({
      cause: lostDestinations.length === all && all > 1 ? 'line' : 'destination',
      destination: d.name,
      text:
        d.state === 'refused'
          ? `${d.name} refuses: nobody sees it there. Enter its stream key again; the others continue.`
          : d.state === 'unreachable'
            ? `${d.name} cannot be reached: video is frozen there; reconnecting. The others continue.`
            : `${d.name} takes less than is sent: video frames are dropped there. Choose another server or a lower bitrate for it.`,
      // What is sent to everybody is not changed for one.
      steps: [],
    });
  const given = [
    ...(last.pace < last.planFps * 0.99
      ? [`${Math.round(last.pace)} fps, evenly spaced, instead of ${Math.round(last.planFps)}`]
      : []),
    ...(last.scale < 1 ? [`softer video, drawn at ${Math.round(last.scale * 100)}% of its size`] : []),
  ];
  if (given.length > 0)
    advice.push({
      cause: 'composition',
      destination: null,
      text: `This computer is overloaded: ${given.join(', ')}. It returns by itself when there is room; a lower output size or fewer moving layers helps for good.`,
      steps: ['fewerFrames', 'smaller'],
    });
  else if (sum((s) => s.skipped) / due > LOST)
    advice.push({
      cause: 'composition',
      destination: null,
      text: `Rendering overloaded: ${Math.round((100 * sum((s) => s.skipped)) / due)}% of frames dropped. Lower the output size or use fewer moving layers.`,
      steps: ['fewerFrames', 'smaller'],
    });
  if ((sum((s) => s.encoderBusy) + sum((s) => s.leftOut)) / due > LOST) {
    const behind = sum((s) => s.encoderBusy) > sum((s) => s.leftOut);
    advice.push({
      cause: 'encoder',
      destination: null,
      steps: behind ? ['fewerFrames', 'quick', 'smaller'] : ['higherRate', 'smaller'],
      text: behind
        ? 'Encoder overloaded: the video stutters. Lower the size, use 30 fps, or the Fast preset.'
        : 'The video is too busy for its bitrate: frames are dropped. Raise the bitrate or lower the size.',
    });
  }
  return advice;
}
