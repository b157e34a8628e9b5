/** What is heard in the demonstration show. */
import {
  PLAIN_CHANNEL,
  SIMULATED_EFFECTS,
  type AnyRecord,
  type ChannelRecord,
} from '../../core/show/records';
import { newProcessor, VOICE_ORDER } from '../../core/sound/chain/chain-settings';

/** The channels, with a voice chain as the soundcheck sets it, and the effect buttons. */
export function sound(showId: string): AnyRecord[] {
  const all: AnyRecord[] = [];
  const channel = (
    id: string,
    name: string,
    source: ChannelRecord['source'],
    gainDb: number,
    more: Partial<ChannelRecord> = {},
  ) =>
    all.push({
      kind: 'channel',
      id,
      showId,
      name,
      position: all.length,
      source,
      ...PLAIN_CHANNEL,
      gainDb,
      ...more,
    });
  const ducking = {
    byChannelId: 'ch-voice',
    depthDb: 6,
    thresholdDb: -32,
    attackMs: 40,
    holdMs: 400,
    releaseMs: 500,
  };
  channel('ch-voice', 'Voice', { type: 'simulated', sound: 'voice' }, 0, {
    colour: 'glacier',
    role: 'voice',
    tracks: [1, 2],
    trimDb: -3,
    chain: hostChain(),
  });
  channel('ch-game', 'Switchback Freight', { type: 'simulated', sound: 'switchback' }, -3, {
    colour: 'larch',
    tracks: [1, 3],
    ducking,
  });
  channel('ch-music', 'Night music', { type: 'simulated', sound: 'night-music' }, -10, {
    colour: 'moss',
    ducking,
  });
  channel('ch-call', 'Voice call', { type: 'simulated', sound: 'voice-call' }, -4, {
    colour: 'rose',
    role: 'voice',
    tracks: [1, 5],
    muted: true,
    heard: 'scenes',
    sceneIds: ['sc-talk'],
  });
  channel('ch-effects', 'Effects', { type: 'effects' }, -8);
  channel('ch-clapper', 'Sync clapper', { type: 'simulated', sound: 'sync-clapper' }, 0, {
    heard: 'with-picture',
    pictureInputId: 'in-clapper',
    // It comes at once, or the first clap would be missing.
    fadeSeconds: 0,
  });
  SIMULATED_EFFECTS.forEach((effect, i) =>
    all.push({
      kind: 'effect',
      id: `fx-${effect}`,
      showId,
      name: { bell: 'Signal bell', whistle: 'Whistle', lever: 'Lever', cheer: 'Cheer' }[effect],
      position: i,
      source: { type: 'simulated', effect },
      gainDb: -3,
      repeat: effect === 'cheer' ? 'restart' : 'overlap',
      fadeSeconds: 0.3,
      colour: (['larch', 'glacier', 'slate', 'moss'] as const)[i],
      key: String(i + 1),
    }),
  );
  return all;
}

/** What a soundcheck of the made-up voice gives, rounded. */
function hostChain(): ChannelRecord['chain'] {
  const processors = VOICE_ORDER.map((type) => newProcessor(type, `host-${type}`));
  for (const processor of processors) {
    if (processor.type === 'gate') Object.assign(processor.values, { openDb: -54, closeDb: -59 });
    if (processor.type === 'compressor')
      Object.assign(processor.values, { thresholdDb: -23.5, makeUpDb: 15.5 });
  }
  return { bypassed: false, processors };
}
