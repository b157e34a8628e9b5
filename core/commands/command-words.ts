/**
 * What commands are called: the first is the name, the others are what else people call it. Here, since pads and other
 * programs are told them by the server.
 */
import { FADER_MIN_DB } from '../sound/decibel';
import { COMMANDS, type Press } from './commands';

export const COMMAND_WORDS = {
  take: ['Take', 'next', 'go', 'cut to next'],
  prepare: ['Prepare a scene as Next', 'preview', 'preset'],
  previous: ['Previous segment', 'back one'],
  skipNext: ['Skip the next segment'],
  jump: ['Jump to a segment', 'go to'],
  scene: ['Take a scene', 'switch', 'direct'],
  draw: ['Draw Next on air by hand', 'transition by hand', 'fader bar', 'manual transition'],
  pose: ['Glide to a pose', 'arrangement', 'move'],
  back: ['Back to the scene before', 'return', 'last scene'],
  clips: ['Play or pause clips', 'stop', 'video file', 'transport'],
  clipsTo: ['Jump in clips', 'seek', 'cue to end', 'rewind', 'start over'],
  mute: ['Mute a channel', 'unmute', 'silence'],
  level: ['Set a fader', 'level', 'volume', 'fade'],
  nudge: ['Move a fader by', 'volume up', 'volume down'],
  onlyVoices: ['Mute all but voices', 'only voices'],
  muteAll: ['Mute all', 'silence', 'panic'],
  cough: ['Cough (held)', 'mute microphone'],
  keepAsStart: ['Keep levels as start', 'save levels'],
  backToStart: ['Levels back to start', 'reset levels'],
  effect: ['Play an effect', 'sound effect', 'jingle'],
  stopEffects: ['Stop all effects'],
  music: ['Play or stop music', 'background music'],
  skipMusic: ['Next piece of music', 'skip song'],
  title: ['Show a title', 'lower third', 'name', 'caption'],
  queueTitle: ['Show a title after the one that is on', 'queue', 'lower third'],
  nextTitle: ['Show the next title', 'lower third'],
  hideTitle: ['Hide the title', 'lower third off'],
  bringOn: ['Bring a guest on', 'guest', 'take off', 'admit', 'let in'],
  bringAllOn: ['Bring all guests on', 'all off', 'interview'],
  talk: ['Talk to the wings (held)', 'talkback', 'intercom', 'speak to guests'],
  cue: ['Run a cue', 'macro', 'actions'],
  stopCues: ['Stop all cues'],
  skipAlert: ['Skip the alert'],
  pauseAlerts: ['Pause alerts'],
  replayAlert: ['Replay the alert'],
  nextComment: ['Read out the next comment'],
  hideComment: ['Hide the comment'],
  poll: ['Start a poll', 'vote', 'question'],
  endPoll: ['End the poll', 'close vote'],
  hold: ['Hold the picture', 'edit unseen', 'freeze layout', 'edit off air'],
  showEdits: ['Show held edits', 'apply edits', 'commit'],
  cover: ['Cover', 'hide', 'emergency', 'privacy'],
  emergency: ['Cover and mute all', 'emergency', 'panic'],
  keep: ['Keep lookback', 'clip', 'save replay'],
  marker: ['Add marker', 'chapter', 'bookmark'],
  goLive: ['Go live (held)', 'start streaming'],
  stop: ['Stop the broadcast (held)', 'end stream'],
  request: ['Send a request', 'webhook', 'http', 'lights', 'bot'],
  undo: ['Undo', 'revert'],
  redo: ['Redo', 'forward'],
} as const;

/** Presses by the name of what they are for. */
export const PRESS_WORDS = {
  scene: 'Take {{name}}',
  prepare: 'Prepare {{name}}',
  pose: '{{name}}',
  jump: '{{name}}',
  clips: 'Play {{name}}',
  clipsTo: '{{name}} to {{seconds}} s',
  mute: 'Mute {{name}}',
  muteOn: 'Mute {{name}}',
  muteOff: 'Unmute {{name}}',
  level: '{{name}} to {{db}} dB',
  levelOff: '{{name}} to silence',
  nudge: '{{name}} {{db}} dB',
  effect: '{{name}}',
  music: '{{name}}',
  skipMusic: 'Skip in {{name}}',
  title: '{{name}}',
  queueTitle: '{{name}}, queued',
  bringOn: 'Bring {{name}} on',
  bringOnOn: 'Bring {{name}} on',
  bringOnOff: 'Take {{name}} off',
  cue: '{{name}}',
  poll: 'Poll: {{name}}',
  request: 'Send {{name}}',
} as const;

/** What a press does, in words. @param nameOf names of records; null for one that is gone */
export function pressWords({ command, params }: Press, nameOf: (id: string) => string | null): string {
  const [words] = COMMAND_WORDS[command];
  const id = COMMANDS[command].required
    .map((name) => params[name])
    .find((value) => typeof value === 'string');
  if (id === undefined) return words;
  const name = nameOf(String(id)) ?? '—';
  const own: Partial<Record<string, string>> = PRESS_WORDS;
  const db = Number(params.gainDb);
  const sign = (value: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value)}`;
  const key =
    (command === 'mute' || command === 'bringOn') && typeof params.on === 'boolean'
      ? `${command}${params.on ? 'On' : 'Off'}`
      : command === 'level' && db <= FADER_MIN_DB
        ? 'levelOff'
        : command;
  return (own[key] ?? words)
    .replace('{{name}}', name)
    .replace('{{db}}', sign(db))
    .replace('{{seconds}}', sign(Number(params.toSeconds)));
}
