/**
 * What an evening adds up to, whoever reports it: the desk counts from its page's beginning, and a page may be closed,
 * reloaded or killed; the relay counts from its own beginning. Nothing that was reported is forgotten, and time in which
 * nobody reported anything counts as lost.
 */

/** Figures that a desk counts from the beginning of a run. */
export interface DeskCounts {
  skipped: number;
  leftOut: number;
  lineDropped: number;
}

export interface DeskReport extends DeskCounts {
  /** Differs whenever the counters began anew. */
  run: string;
  /** Gated loudness of this run, LUFS, and how many gated blocks it is the mean of; null before any. */
  integratedLufs: number | null;
  loudnessBlocks: number;
}

export interface RelayReport {
  /** How long the broadcast is by the relay, seconds, and how much of that no desk was seen for, but for a cover by hand. */
  seconds: number;
  awaySeconds: number;
}

/** Loudness as it can be added up. */
interface Loudness {
  /** Mean energy times blocks. */
  energy: number;
  blocks: number;
}

const NO_COUNTS: DeskCounts = { skipped: 0, leftOut: 0, lineDropped: 0 };
const COUNTED = ['skipped', 'leftOut', 'lineDropped'] as const;

export interface EveningTotals extends DeskCounts {
  /** Pictures that were due: the broadcast's time at the rate that was sent. */
  due: number;
  /** Of these, in which no desk was there. */
  away: number;
  integratedLufs: number | null;
}

/** All of it, to be stored and gone on with. */
export interface AccountState {
  due: number;
  away: number;
  /** Of runs that are over. */
  past: DeskCounts;
  pastLoudness: Loudness;
  /** The run that reports now, as far as it has told. */
  run: DeskReport | null;
  relay: RelayReport | null;
  atMs: number;
}

export const EMPTY_ACCOUNT: AccountState = {
  due: 0,
  away: 0,
  past: NO_COUNTS,
  pastLoudness: { energy: 0, blocks: 0 },
  run: null,
  relay: null,
  atMs: 0,
};

/** BS.1770 loudness is 10 lg of energy, less a constant that falls out of every mean. */
function loudnessOf(report: DeskReport | null): Loudness {
  if (!report || report.integratedLufs === null || report.loudnessBlocks <= 0)
    return { energy: 0, blocks: 0 };
  return {
    energy: 10 ** (report.integratedLufs / 10) * report.loudnessBlocks,
    blocks: report.loudnessBlocks,
  };
}

const plus = (a: Loudness, b: Loudness): Loudness => ({
  energy: a.energy + b.energy,
  blocks: a.blocks + b.blocks,
});

/**
 * One look at who reports now.
 * @param fps rate of the pictures that are sent
 */
export function enterLook(
  state: AccountState,
  look: { atMs: number; desk: DeskReport | null; relay: RelayReport | null; fps: number },
): AccountState {
  const { atMs, desk, relay, fps } = look;
  const next: AccountState = { ...state, atMs };
  if (desk && state.run) {
    const { past, run } = state;
    const anew = desk.run !== run.run;
    if (anew) {
      next.past = { ...past };
      for (const name of COUNTED) next.past[name] += run[name];
    }
    // Loudness is also begun anew by hand.
    if (anew || desk.loudnessBlocks < run.loudnessBlocks)
      next.pastLoudness = plus(state.pastLoudness, loudnessOf(run));
  }
  next.run = desk ?? state.run;
  if (relay) {
    const before = state.relay ?? { seconds: 0, awaySeconds: 0 };
    // One that was started anew counts from nothing; while there was none, nobody saw anything.
    const anew = relay.seconds < before.seconds;
    const gone = anew ? Math.max(0, (atMs - state.atMs) / 1000 - relay.seconds) : 0;
    const from = anew ? { seconds: 0, awaySeconds: 0 } : before;
    next.due += fps * (relay.seconds - from.seconds + gone);
    // While nobody is there it is reckoned, and a hair less when it is known.
    next.away += fps * (Math.max(0, relay.awaySeconds - from.awaySeconds) + gone);
    next.relay = relay;
  }
  return next;
}

/**
 * The figures so far. Loudness over several runs is the mean of their gated blocks' energies: the relative gate of BS.1770
 * stays each run's own.
 */
export function totalsOf(state: AccountState): EveningTotals {
  const { energy, blocks } = plus(state.pastLoudness, loudnessOf(state.run));
  const { past, run } = state;
  return {
    due: Math.round(state.due),
    away: Math.round(state.away),
    skipped: past.skipped + (run?.skipped ?? 0),
    leftOut: past.leftOut + (run?.leftOut ?? 0),
    lineDropped: past.lineDropped + (run?.lineDropped ?? 0),
    integratedLufs: blocks === 0 ? null : 10 * Math.log10(energy / blocks),
  };
}
