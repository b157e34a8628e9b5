/**
 * The simulated sounds. Each renders any block of samples from its number alone or from states it carries, 48 kHz, and
 * allocates nothing while doing so: they run in the sound thread.
 */
import type { SimulatedSound } from '../../../core/show/records';
import { clapAt } from '../pictures/sync-clapper';
import { gameAt } from '../switchback-simulation';
import { ROUND_SECONDS, syllableAt } from '../voice-script';

export const SOUND_RATE = 48_000;

export interface SoundGenerator {
  /**
   * Fills both blocks.
   * @param frame number of the first sample since the start of the programme
   */
  render(frame: number, left: Float32Array, right: Float32Array, frames: number): void;
}

/** White noise, −1…1, cheap. */
class Noise {
  #state: number;
  constructor(seed: number) {
    this.#state = seed | 1;
  }
  next(): number {
    this.#state = (Math.imul(this.#state, 1664525) + 1013904223) | 0;
    return this.#state / 2147483648;
  }
}

/** Two-pole resonator (Smith, "Introduction to Digital Filters", two-pole section). */
class Resonator {
  #a1 = 0;
  #a2 = 0;
  #gain = 0;
  #y1 = 0;
  #y2 = 0;
  tune(hz: number, bandwidthHz: number): void {
    const r = Math.exp((-Math.PI * bandwidthHz) / SOUND_RATE);
    this.#a1 = 2 * r * Math.cos((2 * Math.PI * hz) / SOUND_RATE);
    this.#a2 = -r * r;
    // Peak gain of 1 at the resonance.
    this.#gain = (1 - r) * Math.sqrt(1 - 2 * r * Math.cos((4 * Math.PI * hz) / SOUND_RATE) + r * r);
  }
  next(x: number): number {
    const y = this.#gain * x + this.#a1 * this.#y1 + this.#a2 * this.#y2;
    this.#y2 = this.#y1;
    this.#y1 = y;
    return y;
  }
}

/** First two resonances of five vowels, Hz. */
const VOWELS = [
  [730, 1090],
  [530, 1840],
  [300, 2250],
  [570, 850],
  [320, 900],
] as const;
/** Brings ordinary talk to about −27 LUFS, with the shout just below full scale: what an unset microphone gives. */
const VOICE_LEVEL = 0.33;

export interface VoiceKind {
  pitchHz: number;
  /** Where in the script it begins, seconds: two voices do not say the same. */
  from: number;
  seed: number;
  level: number;
  /** Room noise and mains hum, linear, before `level`. */
  noise: number;
  hum: number;
  humHz: number;
  /** Thumps on the desk. */
  thump: number;
}

export const HOST_VOICE: VoiceKind = {
  pitchHz: 118,
  from: 0,
  seed: 71,
  level: VOICE_LEVEL,
  noise: 0.0009,
  hum: 0.0006,
  humHz: 50,
  thump: 0.25,
};

/** Made-up speech: pulses through two resonances, hisses, room noise, desk thumps; follows the voice script. */
export class VoiceSound implements SoundGenerator {
  readonly #noise: Noise;
  readonly #first = new Resonator();
  readonly #second = new Resonator();
  readonly #third = new Resonator();
  #pulse = 0;
  #level = 0;
  #hiss = 0;
  #hum = 0;

  constructor(readonly kind: VoiceKind = HOST_VOICE) {
    this.#noise = new Noise(kind.seed);
  }

  render(frame: number, left: Float32Array, right: Float32Array, frames: number): void {
    const { kind } = this;
    const seconds = frame / SOUND_RATE + kind.from;
    const now = syllableAt(seconds);
    const [f1, f2] = VOWELS[now.vowel];
    this.#first.tune(f1, 90);
    this.#second.tune(f2, 110);
    this.#third.tune(2700, 180);
    const envelope = Math.sin(Math.PI * Math.min(1, now.phase * 1.05)) ** 0.7;
    const hissing = now.hiss && now.phase < 0.35 && now.level > 0 ? 0.05 * now.level : 0;
    const wanted = now.level * envelope * (hissing > 0 ? 0.2 : 1);
    const step = (kind.pitchHz * now.pitch) / SOUND_RATE;
    const inRound = seconds % ROUND_SECONDS;
    const thump = inRound - 32.4;
    for (let i = 0; i < frames; i++) {
      this.#level += (wanted - this.#level) * 0.004;
      this.#hiss += (hissing - this.#hiss) * 0.01;
      this.#pulse += step;
      if (this.#pulse >= 1) this.#pulse -= 1;
      // Glottal pulse: a rounded saw, weaker high up like a real one.
      const p = this.#pulse;
      const source = p < 0.4 ? Math.sin((Math.PI * p) / 0.4) ** 2 : -0.18;
      const breath = this.#noise.next();
      const excited = (source + 0.03 * breath) * this.#level;
      let v =
        this.#first.next(excited) * 2.6 + this.#second.next(excited) * 1.9 + this.#third.next(excited) * 0.9;
      v += breath * this.#hiss;
      // The room: noise at about −62 dBFS and a little mains hum.
      this.#hum += (2 * Math.PI * kind.humHz) / SOUND_RATE;
      v += breath * kind.noise + Math.sin(this.#hum) * kind.hum;
      const t = thump + i / SOUND_RATE;
      if (t >= 0 && t < 0.3) v += kind.thump * Math.exp(-t * 18) * Math.sin(2 * Math.PI * 58 * t);
      left[i] = v * kind.level;
      right[i] = v * kind.level;
    }
    if (this.#hum > 2 * Math.PI * 1000) this.#hum -= 2 * Math.PI * 1000;
  }
}

/** Steps of the night music: chords in D minor, one every four seconds, Hz of the lowest note and the scale above. */
const CHORDS = [
  [146.83, 174.61, 220.0, 329.63],
  [116.54, 174.61, 233.08, 293.66],
  [130.81, 164.81, 196.0, 293.66],
  [110.0, 164.81, 220.0, 277.18],
] as const;
const CHORD_SECONDS = 4;
const PLUCK_SECONDS = 0.5;

/** Night music: soft chords and a plucked figure over them. */
class NightMusic implements SoundGenerator {
  readonly #phases = new Float64Array(8);
  #pluckPhase = 0;

  render(frame: number, left: Float32Array, right: Float32Array, frames: number): void {
    const seconds = frame / SOUND_RATE;
    const chordIndex = Math.floor(seconds / CHORD_SECONDS);
    const chord = CHORDS[chordIndex % CHORDS.length];
    const inChord = seconds - chordIndex * CHORD_SECONDS;
    const pad = Math.min(1, inChord / 0.8, (CHORD_SECONDS - inChord) / 0.4);
    const pluckIndex = Math.floor(seconds / PLUCK_SECONDS);
    const pluckAge = seconds - pluckIndex * PLUCK_SECONDS;
    const note = chord[[0, 2, 1, 3, 2, 3, 1, 2][pluckIndex % 8]] * 2;
    for (let i = 0; i < frames; i++) {
      const t = i / SOUND_RATE;
      let l = 0;
      let r = 0;
      for (let n = 0; n < 4; n++) {
        const hz = chord[n];
        this.#phases[n] += hz / SOUND_RATE;
        this.#phases[n + 4] += (hz * 1.003) / SOUND_RATE;
        if (this.#phases[n] >= 1) this.#phases[n] -= 1;
        if (this.#phases[n + 4] >= 1) this.#phases[n + 4] -= 1;
        l += softWave(this.#phases[n]);
        r += softWave(this.#phases[n + 4]);
      }
      this.#pluckPhase += note / SOUND_RATE;
      if (this.#pluckPhase >= 1) this.#pluckPhase -= 1;
      const pluck =
        softWave(this.#pluckPhase) * Math.exp(-(pluckAge + t) * 7) * Math.min(1, (pluckAge + t) * 400);
      left[i] = l * 0.055 * pad + pluck * 0.11;
      right[i] = r * 0.055 * pad + pluck * 0.16;
    }
  }
}

/** A sine by parabolas, with a touch of third harmonic: cheap and warm. */
function softWave(phase: number): number {
  const x = phase < 0.5 ? phase * 4 - 1 : 3 - phase * 4;
  return 1.5 * x - 0.5 * x * x * x;
}

/** The game's own sound: wind, the engine's beat, wheels, and the bell when the signal clears. */
class SwitchbackSound implements SoundGenerator {
  readonly #noise = new Noise(5);
  readonly #wind = new Resonator();
  readonly #steam = new Resonator();
  #beat = 0;
  #bell = 0;

  render(frame: number, left: Float32Array, right: Float32Array, frames: number): void {
    const seconds = frame / SOUND_RATE;
    const game = gameAt(seconds);
    this.#wind.tune(420 + 180 * Math.sin(seconds * 0.4), 260);
    this.#steam.tune(240, 500);
    const beatHz = game.effort > 0.02 ? 1.2 + 3.4 * game.effort : 0;
    const ringing = game.signal === 'go' && game.signalAge < 3 && seconds > 3;
    for (let i = 0; i < frames; i++) {
      const white = this.#noise.next();
      this.#beat += beatHz / SOUND_RATE;
      if (this.#beat >= 1) this.#beat -= 1;
      const puff = game.effort * Math.exp(-this.#beat * 5);
      const steam = this.#steam.next(white) * puff * 1.5;
      const wind = this.#wind.next(white) * 0.22;
      let bell = 0;
      if (ringing) {
        const t = game.signalAge + i / SOUND_RATE;
        const stroke = t % 0.5;
        bell =
          0.16 *
          Math.exp(-stroke * 6) *
          (Math.sin(2 * Math.PI * 1318 * t) + 0.5 * Math.sin(2 * Math.PI * 2217 * t));
      }
      this.#bell += (bell - this.#bell) * 0.5;
      left[i] = steam + wind + this.#bell * 0.8;
      right[i] = steam * 0.8 + wind * 1.1 + this.#bell;
    }
  }
}

/** Beep of the sync clapper: 1 kHz, starting with the flash. */
class SyncClapperSound implements SoundGenerator {
  render(frame: number, left: Float32Array, right: Float32Array, frames: number): void {
    for (let i = 0; i < frames; i++) {
      const t = (frame + i) / SOUND_RATE;
      const v = clapAt(t) ? 0.5 * Math.sin(2 * Math.PI * 1000 * t) : 0;
      left[i] = v;
      right[i] = v;
    }
  }
}

/** The other end of a voice call: higher, with the narrow band and the hiss of a line. */
class VoiceCall implements SoundGenerator {
  readonly #voice = new VoiceSound({
    ...HOST_VOICE,
    pitchHz: 196,
    from: 17,
    seed: 12,
    noise: 0.002,
    hum: 0,
    thump: 0,
  });

  render(frame: number, left: Float32Array, right: Float32Array, frames: number): void {
    this.#voice.render(frame, left, right, frames);
  }
}

const GENERATORS: Record<SimulatedSound, new () => SoundGenerator> = {
  voice: VoiceSound,
  'voice-call': VoiceCall,
  'night-music': NightMusic,
  switchback: SwitchbackSound,
  'sync-clapper': SyncClapperSound,
};

export function createSound(sound: SimulatedSound): SoundGenerator {
  return new GENERATORS[sound]();
}
