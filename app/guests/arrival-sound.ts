let context: AudioContext | null = null;

/** Two soft tones for the host alone: somebody has come. Not a part of the show's sound. */
export function arrivalSound(): void {
  context ??= new AudioContext();
  const now = context.currentTime;
  for (const [i, hz] of [587, 784].entries()) {
    const tone = new OscillatorNode(context, { frequency: hz });
    const gain = new GainNode(context, { gain: 0 });
    const at = now + i * 0.16;
    gain.gain.setValueAtTime(0, at);
    gain.gain.linearRampToValueAtTime(0.12, at + 0.02);
    gain.gain.exponentialRampToValueAtTime(0.001, at + 0.3);
    tone.connect(gain).connect(context.destination);
    tone.start(at);
    tone.stop(at + 0.32);
  }
}
