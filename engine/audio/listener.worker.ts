/** Listens for the desk: soundcheck, spectrum matching, the figures of a take, and the echo finder. */
import { systemClock } from '../system-clock';
import { messageOf } from '../../core/fault';
import { decimate, ECHO_WINDOW, EchoFinder } from '../../core/sound/analysis/echo-finder';
import { soundcheck, throughChain } from '../../core/sound/analysis/soundcheck';
import { matchSpectra, voiceSpectrum } from '../../core/sound/analysis/spectrum-match';
import { RnnoiseModule, type Denoiser } from '../../core/sound/chain/rnnoise';
import { dbOfAmplitude } from '../../core/sound/decibel';
import { MIXER_SAMPLE_RATE } from '../../core/sound/format';
import { LoudnessMeter } from '../../core/sound/loudness-meter';
import { TruePeakDetector } from '../../core/sound/true-peak';
import type { FromListener, TakeFigures, ToListener } from '../../protocol/sound-engine';
import { BLOCK, Probe } from '../../protocol/shared-sound';
import { workerScope } from '../worker-scope';

/** One window takes about 50 ms of work: seldom while all is quiet, sooner to confirm a suspicion. */
const LOOK_MS = 4000;
const LOOK_AGAIN_MS = 2000;
const WINDOW_BLOCKS = (ECHO_WINDOW * 3) / BLOCK;

const tell = (message: FromListener) => workerScope.postMessage(message);

let module: RnnoiseModule | null = null;
function denoiserFrom(noise: ArrayBuffer | null): (() => Denoiser) | null {
  if (!noise) return null;
  const loaded = (module ??= new RnnoiseModule(noise));
  return () => loaded.open();
}

function measure(left: Float32Array, right: Float32Array): TakeFigures {
  const meter = new LoudnessMeter(2);
  const peaks = [new TruePeakDetector(), new TruePeakDetector()];
  let peak = 0;
  for (let from = 0; from < left.length; from += BLOCK) {
    const piece = [left.subarray(from, from + BLOCK), right.subarray(from, from + BLOCK)];
    meter.process(piece, piece[0].length);
    peaks.forEach((detector, i) => (peak = detector.maxOver(piece[i], piece[i].length, peak)));
  }
  return {
    integratedLufs: meter.integrated(),
    rangeLu: meter.range(),
    truePeakDbtp: dbOfAmplitude(peak),
    maxMomentaryLufs: meter.maxMomentary,
  };
}

function watchEcho(probe: Probe): void {
  const finder = new EchoFinder();
  const whole = new Float32Array(ECHO_WINDOW * 3);
  const microphone = new Float32Array(ECHO_WINDOW);
  const reference = new Float32Array(ECHO_WINDOW);
  let strip = -1;
  let since = 0;
  const look = () => {
    if (probe.echoStrip !== strip) {
      strip = probe.echoStrip;
      since = probe.blocks;
      finder.reset();
    }
    const end = probe.blocks;
    if (strip >= 0 && end - since >= WINDOW_BLOCKS) {
      probe.read('echoMicrophone', whole, end);
      decimate(whole, microphone);
      probe.read('echoReference', whole, end);
      decimate(whole, reference);
      tell({ type: 'echo', finding: finder.look(microphone, reference) });
    }
    systemClock.after(finder.suspects ? LOOK_AGAIN_MS : LOOK_MS, look);
  };
  look();
}

workerScope.onmessage = ({ data }: MessageEvent<ToListener>) => {
  if (data.type === 'watchEcho') return watchEcho(new Probe(data.probe));
  const { call } = data;
  try {
    if (data.type === 'measure') tell({ type: 'measure', call, figures: measure(data.left, data.right) });
    else if (data.type === 'soundcheck')
      tell({
        type: 'soundcheck',
        call,
        result: soundcheck(data.takes, data.targetLufs, () => crypto.randomUUID(), denoiserFrom(data.noise)),
      });
    else {
      const voice = throughChain(data.voice, data.trimDb, data.chain, denoiserFrom(data.noise));
      if (data.reference.length < MIXER_SAMPLE_RATE)
        throw new Error('the recording is shorter than a second');
      tell({
        type: 'match',
        call,
        result: matchSpectra(voiceSpectrum(data.reference), voiceSpectrum(voice)),
      });
    }
  } catch (error) {
    tell({ type: 'failed', call, message: messageOf(error) });
  }
};
