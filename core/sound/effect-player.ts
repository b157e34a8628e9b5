/** Clips that can sound at once; the oldest gives way. */
const VOICES = 16;

interface Clip {
  left: Float32Array;
  right: Float32Array;
}

interface Voice {
  id: string;
  clip: Clip | null;
  /** The sample that comes next; below zero while it waits for its beginning. */
  at: number;
  gain: number;
  /** Change of the gain per sample while it fades out. */
  fade: number;
  started: number;
}

/** Plays short clips over each other into one stereo channel. Only loading allocates. */
export class EffectPlayer {
  readonly #clips = new Map<string, Clip>();
  readonly #voices: Voice[] = Array.from({ length: VOICES }, () => ({
    id: '',
    clip: null,
    at: 0,
    gain: 0,
    fade: 0,
    started: 0,
  }));
  #count = 0;

  load(id: string, left: Float32Array, right: Float32Array): void {
    this.#clips.set(id, { left, right });
  }

  unload(id: string): void {
    this.#clips.delete(id);
    for (const voice of this.#voices) if (voice.id === id) voice.clip = null;
  }

  /**
   * @param waitFrames samples until it begins
   * @returns whether the clip is loaded
   */
  play(id: string, gain: number, restart: boolean, waitFrames = 0): boolean {
    const clip = this.#clips.get(id);
    if (!clip) return false;
    if (restart) this.stop(id, 240);
    let voice = this.#voices[0];
    for (const other of this.#voices) {
      if (other.clip === null) {
        voice = other;
        break;
      }
      if (other.started < voice.started) voice = other;
    }
    voice.id = id;
    voice.clip = clip;
    voice.at = -waitFrames;
    voice.gain = gain;
    voice.fade = 0;
    voice.started = ++this.#count;
    return true;
  }

  /** @param id null for all @param frames length of the fade, samples */
  stop(id: string | null, frames: number): void {
    for (const voice of this.#voices)
      if (voice.clip !== null && (id === null || voice.id === id)) {
        if (voice.at < 0) voice.clip = null;
        else voice.fade = -voice.gain / Math.max(frames, 64);
      }
  }

  /** Fills a block. @returns whether anything sounded */
  render(left: Float32Array, right: Float32Array, frames: number): boolean {
    left.fill(0);
    right.fill(0);
    let sounded = false;
    for (let v = 0; v < VOICES; v++) {
      const voice = this.#voices[v];
      const { clip } = voice;
      if (clip === null) continue;
      sounded = true;
      const take = Math.min(frames, clip.left.length - voice.at);
      let { gain } = voice;
      for (let i = Math.max(0, -voice.at); i < take; i++) {
        gain += voice.fade;
        if (gain < 0) gain = 0;
        left[i] += clip.left[voice.at + i] * gain;
        right[i] += clip.right[voice.at + i] * gain;
      }
      voice.gain = gain;
      voice.at += take;
      if (voice.at >= clip.left.length || (voice.fade < 0 && gain === 0)) voice.clip = null;
    }
    return sounded;
  }
}
