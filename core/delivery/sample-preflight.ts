/** A good evening before going live, to change one thing of. Used by tests only. */
import { preflight, type Check, type PreflightFacts, type PreflightInput } from './preflight';

export const camera: PreflightInput = {
  id: 'cam',
  name: 'Desk camera',
  state: 'ready',
  message: '',
  onAir: true,
  look: 'moving',
  live: true,
  keepReady: true,
  heavy: false,
};
export const larch = {
  id: 'larch',
  name: 'Larch',
  hasKey: true,
  keyLost: false,
  freshKey: false,
  keyAgeHours: 400,
  keyUsed: true,
  sameKeyAs: null,
  needsTitle: false,
  encode: 'wide' as const,
  noServerEncoder: false,
};
export const voice = { id: 'v', name: 'Voice', muted: false, peakDb: -9, clips: 0, problem: null };
export const GOOD: PreflightFacts = {
  inputs: [camera],
  soundRunning: true,
  voices: [voice],
  lufs: -16.2,
  targetLufs: -16,
  echo: null,
  destinations: [larch],
  folderProblem: null,
  freeBytes: 200e9,
  recordKbps: 3000,
  plannedMinutes: 180,
  uploadKbps: 4000,
  lineKbps: 9700,
  headroom: 0.3,
  lineTestAgeHours: 0.1,
  encoderGone: null,
  computer: { share: 0.3, verdict: 'room', left: 0.4 },
  planWarnings: [],
  relayGone: false,
  fps: 30,
  plannedFps: 30,
  clockSlips: 0,
  next: { name: 'Talk', missing: [] },
  capturesStudio: [],
};
export const look = (more: Partial<PreflightFacts>) => preflight({ ...GOOD, ...more });
export const find = (checks: Check[], id: string) => checks.find((c) => c.id === id)!;
