/**
 * The guided set-up of a microphone: three short takes (silence, talk, a shout) give the input gain and the settings of
 * every processor, each with a sentence why. Nothing here knows a device or a screen; the chain that is heard later is run.
 */
import { withMinus } from '../../format/numbers';
import { BLOCK_FRAMES, MIXER_SAMPLE_RATE } from '../format';
import { LoudnessMeter } from '../loudness-meter';
import {
  inRange,
  newProcessor,
  PARAMETERS,
  type ChainSettings,
  type Processor,
} from '../chain/chain-settings';
import { KeyFilter } from '../chain/gate';
import { dbOf } from '../chain/processor';
import type { Denoiser } from '../chain/rnnoise';
import { VoiceChain } from '../chain/voice-chain';
import { averageSpectrum } from './spectrum';

/** Raw input of the microphone, one voice at 48 kHz, in front of any gain of ours. */
export interface SoundcheckTakes {
  quiet: Float32Array;
  talk: Float32Array;
  shout: Float32Array;
}

export interface SoundcheckNote {
  /** `fault`: the check must be done again; `warning`: it works, and could be better; `step`: what was set and why. */
  kind: 'fault' | 'warning' | 'step';
  title: string;
  text: string;
}

export interface SoundcheckResult {
  trimDb: number;
  chain: ChainSettings;
  notes: SoundcheckNote[];
  /** Room behind gain and noise reduction, dBFS. */
  noiseFloorDb: number;
  shoutPeakDb: number;
  hum: { frequencyHz: number; harmonics: number } | null;
  /** Short-term loudness of the talk, median: as it came in, and behind the chain. */
  talkLufs: number;
  resultLufs: number;
  /** Share of time the gate is open. */
  openInQuiet: number;
  openInTalk: number;
}

/** The shout is to reach this: 1 dB of safety below the −3 dBFS it must not exceed. */
const SHOUT_DB = -4;
/** The room behind everything is not to be made louder than this. */
const ROOM_LIMIT_DB = -42;
const LEVEL_FRAMES = 480;
/** What the room stays below for this share of the silence; a knock on the desk is not the room. */
const ROOM_SHARE = 0.8;

/** Peak of every 10 ms, dBFS: what the gate and the compressor see. */
function levels(samples: Float32Array): number[] {
  const out: number[] = [];
  for (let from = 0; from + LEVEL_FRAMES <= samples.length; from += LEVEL_FRAMES) {
    let peak = 0;
    for (let i = 0; i < LEVEL_FRAMES; i++) peak = Math.max(peak, Math.abs(samples[from + i]));
    out.push(dbOf(peak));
  }
  return out;
}

function quantile(values: readonly number[], share: number): number {
  if (values.length === 0) return -120;
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))];
}

/** Runs samples through gain and chain, without the delay of the chain. */
export function throughChain(
  samples: Float32Array,
  trimDb: number,
  settings: ChainSettings,
  denoiser: (() => Denoiser) | null,
): Float32Array {
  const chain = new VoiceChain({ denoiser, stagger: 0 });
  chain.set(settings);
  const late = chain.latencyFrames;
  const gain = 10 ** (trimDb / 20);
  const blocks = Math.ceil((samples.length + late) / BLOCK_FRAMES);
  const out = new Float32Array(blocks * BLOCK_FRAMES);
  const block = new Float32Array(BLOCK_FRAMES);
  for (let b = 0; b < blocks; b++) {
    for (let i = 0; i < BLOCK_FRAMES; i++) block[i] = (samples[b * BLOCK_FRAMES + i] ?? 0) * gain;
    chain.process(block, null, BLOCK_FRAMES);
    out.set(block, b * BLOCK_FRAMES);
  }
  chain.set({ bypassed: true, processors: [] });
  chain.process(block, null, BLOCK_FRAMES); // gives the denoiser's memory back
  return out.subarray(late, late + samples.length);
}

/** The samples as a gate listens to them. */
function heardByGate(samples: Float32Array, keyHz: number): Float32Array {
  const filter = new KeyFilter(MIXER_SAMPLE_RATE);
  filter.set(keyHz);
  const out = new Float32Array(samples.length);
  for (let from = 0; from < samples.length; from += BLOCK_FRAMES) {
    const piece = samples.subarray(from, from + BLOCK_FRAMES);
    out.set(filter.process(piece, null, piece.length).subarray(0, piece.length), from);
  }
  return out;
}

/** Median of the short-term loudness while there is talk, LUFS as heard from both sides. */
function medianShortTerm(samples: Float32Array): number {
  const meter = new LoudnessMeter(1, 2);
  const found: number[] = [];
  for (let from = 0; from < samples.length; from += LEVEL_FRAMES) {
    const piece = samples.subarray(from, from + LEVEL_FRAMES);
    meter.process([piece], piece.length);
    if (Number.isFinite(meter.shortTerm)) found.push(meter.shortTerm);
  }
  return quantile(
    found.filter((l) => l > quantile(found, 0.9) - 12),
    0.5,
  );
}

/** Runs of samples that stand still at the largest value: what an overdriven input gives, also below full scale. */
function isClipped(samples: Float32Array): boolean {
  let max = 0;
  for (const v of samples) max = Math.max(max, Math.abs(v));
  if (max < 0.05) return false;
  let run = 0;
  let flat = 0;
  for (const v of samples) {
    run = Math.abs(v) >= max * 0.9995 ? run + 1 : 0;
    if (run === 3) flat += 1;
  }
  return flat >= 3 || (max >= 0.9999 && flat >= 1);
}

/** Mains hum in the silence: a line at 50 or 60 Hz, or two of its harmonics, well above what is beside it. */
function findHum(quiet: Float32Array, trimDb: number): SoundcheckResult['hum'] {
  const size = 32_768;
  if (quiet.length < size) return null;
  const power = averageSpectrum(quiet, size);
  const binHz = MIXER_SAMPLE_RATE / size;
  const line = (hz: number) => {
    const around = Math.round(hz / binHz);
    let at = around;
    for (let k = around - 2; k <= around + 2; k++) if (power[k] > power[at]) at = k;
    const beside: number[] = [];
    for (let d = 6; d <= 14; d++) beside.push(power[at - d] ?? 0, power[at + d] ?? 0);
    const ground = quantile(beside, 0.5);
    return {
      overDb: 10 * Math.log10(power[at] / Math.max(ground, 1e-20)),
      levelDb: 10 * Math.log10(power[at] + 1e-20) + trimDb,
      hz: at * binHz,
    };
  };
  for (const mains of [50, 60]) {
    const first = line(mains);
    let lines = 0;
    let highest = 0;
    for (let h = 1; h <= 8; h++) {
      const l = line(mains * h);
      if (l.overDb > 15 && l.levelDb > -85) {
        lines += 1;
        highest = h;
      }
    }
    if (highest > 0 && (lines >= 2 || first.overDb > 15) && line(mains * highest).levelDb > -85)
      return { frequencyHz: mains, harmonics: Math.max(3, highest) };
  }
  return null;
}

/** Lowest pitch of the talk that matters, Hz: a quarter of what autocorrelation finds lies below; 100 when there is none. */
function lowestPitch(talk: Float32Array): number {
  const found: number[] = [];
  const length = 2400;
  for (let from = 0; from + 2 * length <= talk.length; from += 4800) {
    let energy = 0;
    for (let i = 0; i < length; i++) energy += talk[from + i] ** 2;
    if (energy / length < 1e-6) continue;
    let best = 0;
    let at = 0;
    for (let lag = 120; lag <= 800; lag += 2) {
      let sum = 0;
      for (let i = 0; i < length; i += 3) sum += talk[from + i] * talk[from + i + lag];
      if (sum > best * 1.05) {
        best = sum;
        at = lag;
      }
    }
    // Twice the period fits as well as the period: the shorter one is the pitch.
    const half = Math.round(at / 2);
    if (half >= 120) {
      let sum = 0;
      for (let i = 0; i < length; i += 3) sum += talk[from + i] * talk[from + i + half];
      if (sum > 0.8 * best) at = half;
    }
    if (at > 0 && best * 3 > 0.4 * energy) found.push(MIXER_SAMPLE_RATE / at);
  }
  return found.length < 3 ? 100 : quantile(found, 0.25);
}

const db = (value: number) => `${withMinus(value.toFixed(1))} dB`;

/**
 * @param targetLufs short-term loudness the talk is to have, LUFS
 * @param denoiser null where there is none; the chain then has no noise reduction
 */
export function soundcheck(
  takes: SoundcheckTakes,
  targetLufs: number,
  newId: () => string,
  denoiser: (() => Denoiser) | null,
): SoundcheckResult {
  const notes: SoundcheckNote[] = [];
  const fault = (title: string, text: string) => notes.push({ kind: 'fault', title, text });
  const warn = (title: string, text: string) => notes.push({ kind: 'warning', title, text });
  const step = (title: string, text: string) => notes.push({ kind: 'step', title, text });

  const talkLevels = levels(takes.talk);
  const quietRaw = quantile(levels(takes.quiet), ROOM_SHARE);
  const talkRaw = quantile(talkLevels, 0.8);
  if (talkRaw < -90)
    fault('No sound', 'The microphone gives silence: look for its switch, its cable, or choose another.');
  else if (talkRaw - quietRaw < 6)
    fault(
      'Nothing above the room',
      'The talk is hardly louder than the silence: do it again, and talk during the second part.',
    );
  if (isClipped(takes.shout) || isClipped(takes.talk))
    fault(
      'Clipping in front of this program',
      'The tops are cut off before the sound gets here: turn the gain down on the microphone or the interface, then check again.',
    );

  // 1 Gain: from the shout.
  const shoutPeakDb = Math.max(quantile(levels(takes.shout), 1), quantile(talkLevels, 1));
  const wanted = SHOUT_DB - shoutPeakDb;
  const trimDb = Math.round(Math.min(40, Math.max(-20, wanted)) * 10) / 10;
  step(
    'Input gain',
    `The shout came in at ${db(shoutPeakDb)}; with ${db(trimDb)} of gain it stays below −3 dB.`,
  );
  if (wanted > 30)
    warn(
      'Very quiet',
      'More than 30 dB of gain is needed: raise the gain on the interface, or go nearer, a fist away.',
    );

  const processors: Processor[] = [];
  const chain: ChainSettings = { bypassed: false, processors };
  // 2 Noise reduction.
  if (denoiser) {
    const noise = newProcessor('noise', newId());
    const roomDb = quietRaw + trimDb;
    if (noise.type === 'noise') noise.values.amount = roomDb > -50 ? 90 : roomDb > -65 ? 75 : 50;
    processors.push(noise);
    step(
      'Noise reduction',
      `The room is at ${db(roomDb)}, so ${noise.type === 'noise' ? noise.values.amount : 0}%.`,
    );
  }
  // Hum: in front of the gate, which it would hold open.
  const hum = findHum(takes.quiet, trimDb);
  if (hum) {
    const dehum = newProcessor('dehum', newId());
    if (dehum.type === 'dehum') Object.assign(dehum.values, hum);
    processors.unshift(dehum);
    step(
      'De-hum',
      `There is mains hum of ${hum.frequencyHz} Hz up to harmonic ${hum.harmonics}. A better cable is the better cure.`,
    );
  }
  // Rumble and knocks on the desk: in front of the gate, which they would open.
  const power = averageSpectrum(takes.quiet, 8192);
  const binHz = MIXER_SAMPLE_RATE / 8192;
  let low65 = 0;
  for (let k = 1; k * binHz < 65; k++) low65 += power[k];
  const rumbleDb = 10 * Math.log10(low65 + 1e-20) + trimDb;
  if (rumbleDb > -60) {
    const rumble = newProcessor('equaliser', newId());
    if (rumble.type === 'equaliser')
      rumble.bands = [75, 75].map((frequencyHz) => ({ ...rumble.bands[0], frequencyHz }));
    processors.unshift(rumble);
    step(
      'Rumble',
      `There is rumble below 65 Hz (${db(rumbleDb)}): a steep high-pass in front takes it away.`,
    );
  }
  // 3 Gate: between the room and the quietest talk, both as the gate will see them.
  const room = throughChain(takes.quiet, trimDb, chain, denoiser);
  const voice = throughChain(takes.talk, trimDb, chain, denoiser);
  // The denoiser needs a moment to know the room.
  const keyHz = rumbleDb > -60 ? 200 : 120;
  const roomLevels = levels(heardByGate(room, keyHz)).slice(Math.min(50, room.length / LEVEL_FRAMES / 4));
  const noiseFloorDb = quantile(roomLevels, ROOM_SHARE);
  const voiceLevels = levels(heardByGate(voice, keyHz));
  const loud = quantile(voiceLevels, 0.95);
  const active = voiceLevels.filter((l) => l > Math.max(noiseFloorDb + 3, loud - 25));
  const low = quantile(active, 0.1);
  const apart = low - noiseFloorDb;
  const open =
    apart < 9 ? noiseFloorDb + 3 : Math.min(Math.max(noiseFloorDb + apart / 2, noiseFloorDb + 6), low - 3);
  const gate = newProcessor('gate', newId());
  if (gate.type === 'gate') {
    gate.values.openDb = inRange(Math.round(open * 2) / 2, PARAMETERS.gate.openDb);
    gate.values.keyHz = keyHz;
    gate.values.closeDb = inRange(gate.values.openDb - 5, PARAMETERS.gate.closeDb);
    step(
      'Gate',
      `Silence is at ${db(noiseFloorDb)}, your quietest words at ${db(low)}: it opens at ${db(gate.values.openDb)} and closes 5 dB lower.`,
    );
  }
  processors.push(gate);
  if (quietRaw + trimDb > -45)
    warn(
      'Loud room',
      `Without you the room is at ${db(quietRaw + trimDb)}: switch off fans, close the window, go nearer.`,
    );
  if (talkRaw - quietRaw < 22 && talkRaw - quietRaw >= 6)
    warn(
      'Too far away',
      `Your voice is only ${db(talkRaw - quietRaw)} above the room: a fist between mouth and microphone.`,
    );
  // 4 Compressor at ordinary talk.
  const compressor = newProcessor('compressor', newId());
  const middle = quantile(
    levels(voice).filter((_, i) => voiceLevels[i] > Math.max(noiseFloorDb + 3, loud - 25)),
    0.5,
  );
  if (compressor.type === 'compressor') {
    compressor.values.thresholdDb = inRange(Math.round(middle * 2) / 2, PARAMETERS.compressor.thresholdDb);
    processors.push(compressor);
  }
  // 5 Equaliser: only the high-pass is known; taste and matching do the rest.
  const equaliser = newProcessor('equaliser', newId());
  if (equaliser.type === 'equaliser') {
    const pitch = lowestPitch(takes.talk);
    const hz = Math.round(Math.min(rumbleDb > -60 ? 100 : 80, Math.max(70, pitch * 0.8)) / 5) * 5;
    equaliser.bands[0].frequencyHz = hz;
    for (const band of equaliser.bands.slice(1)) band.gainDb = 0;
    step('High-pass', `At ${hz} Hz: your voice begins at about ${Math.round(pitch)} Hz.`);
    processors.push(equaliser);
  }
  processors.push(newProcessor('limiter', newId()));

  // 6 Make-up: the whole chain is run until the talk has the loudness aimed at.
  let resultLufs = medianShortTerm(throughChain(takes.talk, trimDb, chain, denoiser));
  if (compressor.type === 'compressor') {
    const limit = noiseFloorDb > -70 ? ROOM_LIMIT_DB - noiseFloorDb : 36;
    for (let round = 0; round < 4 && Math.abs(targetLufs - resultLufs) > 0.15; round++) {
      const next = compressor.values.makeUpDb + targetLufs - resultLufs;
      const capped = Math.min(next, Math.max(0, limit));
      compressor.values.makeUpDb = inRange(Math.round(capped * 10) / 10, PARAMETERS.compressor.makeUpDb);
      resultLufs = medianShortTerm(throughChain(takes.talk, trimDb, chain, denoiser));
      if (capped < next) break;
    }
    step(
      'Compressor',
      `It works from ${db(compressor.values.thresholdDb)}, your ordinary talk, and makes up ${db(compressor.values.makeUpDb)}: talk comes out at ${withMinus(resultLufs.toFixed(1))} LUFS.`,
    );
    if (resultLufs < targetLufs - 1)
      warn(
        'Not as loud as aimed at',
        'More make-up would bring up the room: go nearer, or make the room quieter.',
      );
  }
  const share = (samples: Float32Array, only: (level: number) => boolean) => {
    const upToGate = { bypassed: false, processors: processors.slice(0, processors.indexOf(gate)) };
    const seen = levels(heardByGate(throughChain(samples, trimDb, upToGate, denoiser), keyHz));
    const through = levels(
      throughChain(
        samples,
        trimDb,
        { bypassed: false, processors: [...upToGate.processors, gate] },
        denoiser,
      ),
    );
    const whole = levels(throughChain(samples, trimDb, upToGate, denoiser));
    const counted = seen.flatMap((l, i) =>
      i > 50 && only(l) ? [through[i] > whole[i] - 3 && whole[i] > -110] : [],
    );
    return counted.length === 0 ? 0 : counted.filter(Boolean).length / counted.length;
  };
  return {
    trimDb,
    chain,
    notes,
    noiseFloorDb,
    shoutPeakDb,
    hum,
    talkLufs: medianShortTerm(takes.talk),
    resultLufs,
    openInQuiet: share(takes.quiet, () => true),
    openInTalk: share(takes.talk, (l) => l >= low),
  };
}
