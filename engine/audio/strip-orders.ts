/** What the sound thread is told, from the show and from what the desk has switched. */
import { recordsOf, type ShowDocument } from '../../core/show/document';
import { isBroughtOn, isTalker, returnSends, MAX_GUESTS, type Hearer } from '../../core/guests/seats';
import { heardIn } from '../../core/show/heard';
import type { ChannelRecord } from '../../core/show/records';
import { faderGain } from '../../core/sound/decibel';
import type { StripSettings } from '../../core/sound/strip';
import { standingOf, type ProgrammeState } from '../../core/programme/programme-state';
import { MAX_STRIPS } from '../../protocol/shared-sound';
import type { DeskSound } from '../../protocol/sound-engine';
import { MONITOR_OFF, type MonitorSettings } from './monitor-output';

/** What belongs to the desk while it is open, and not to the show. */
export interface SoundSwitches {
  /** Channels heard alone in the headphones. */
  solo: readonly string[];
  /** The voices are muted while the cough button is held. */
  coughing: boolean;
  /** Everything is silent for viewers. */
  allMuted: boolean;
  /** Heard as it is before its chain, in the headphones. */
  compare: string | null;
  monitor: MonitorSettings;
  /** Sound of clean windows; `without`: the channel of the call it goes to, whose people must not hear themselves. */
  windows: MonitorSettings & { without: string | null };
  /** Whom the desk talks to, unheard by viewers: `TALK_TO_WINGS`, a seat's id, or nobody. */
  talk: string | null;
  /** Who waits in the wings is heard in the headphones. */
  listen: boolean;
}

export const NOTHING_SWITCHED: SoundSwitches = {
  solo: [],
  coughing: false,
  allMuted: false,
  compare: null,
  monitor: MONITOR_OFF,
  windows: { ...MONITOR_OFF, gainDb: 0, without: null },
  talk: null,
  listen: true,
};

/** What the settings of a strip depend on, beside its channel. */
export interface StripState {
  document: ShowDocument;
  programme: ProgrammeState;
  /** How long the picture takes to change, while it does: what comes and goes with it takes no less. */
  changeSeconds: number;
  coughing: boolean;
  talk: string | null;
  stripOf: (channelId: string) => number | undefined;
}

/**
 * Gives each channel a strip; one that has its strip keeps it, since the sound thread carries states from block to block.
 * @param strips by id of a channel; changed
 * @returns channels for which there is none left
 */
export function assignStrips(
  strips: Map<string, number>,
  channels: readonly Pick<ChannelRecord, 'id'>[],
): string[] {
  for (const [id] of strips) if (!channels.some((c) => c.id === id)) strips.delete(id);
  const taken = new Set(strips.values());
  const left: string[] = [];
  for (const { id } of channels) {
    if (strips.has(id)) continue;
    let index = 0;
    while (taken.has(index)) index += 1;
    if (index >= MAX_STRIPS) left.push(id);
    else {
      strips.set(id, index);
      taken.add(index);
    }
  }
  return left;
}

export function stripSettings(channel: ChannelRecord, state: StripState): StripSettings {
  const { trimDb, pan, mono, inverted, offsetMs, monitor, tracks, role } = channel;
  const { gainDb, seconds, muted } = standingOf(state.programme, channel);
  const fadeSeconds = Math.max(channel.fadeSeconds, state.changeSeconds);
  const key = channel.ducking ? state.stripOf(channel.ducking.byChannelId) : undefined;
  return {
    ...{ trimDb, gainDb, pan, mono, inverted, offsetMs, monitor, tracks, role, fadeSeconds },
    levelSeconds: seconds,
    muted:
      muted ||
      (state.coughing && role === 'voice') ||
      (state.talk !== null && isTalker(state.document, channel)),
    present:
      heardIn(state.document, channel, state.programme.onAir) &&
      isBroughtOn(state.document, channel, state.programme),
    chain: channel.chain,
    ducking: channel.ducking && key !== undefined ? { ...channel.ducking, key } : null,
  };
}

/**
 * @param hearers guests who get a return
 * @param strip the number of a channel's strip, −1 when it has none or for null
 */
export function deskSound(
  { document, programme }: { document: ShowDocument; programme: ProgrammeState },
  switches: SoundSwitches,
  hearers: readonly Hearer[],
  listening: { focus: string | null; echo: string | null },
  strip: (channelId: string | null) => number,
): DeskSound {
  const { solo, allMuted, compare, monitor, windows } = switches;
  return {
    ceilingDb: recordsOf(document, 'show')[0]?.sound.ceilingDbtp ?? -1,
    allMuted,
    solo: solo.reduce((bits, id) => bits | (strip(id) < 0 ? 0 : 1 << strip(id)), 0),
    monitorGain: faderGain(monitor.gainDb),
    windows: windows.deviceId === null ? null : { without: strip(windows.without) },
    wings: switches.listen
      ? recordsOf(document, 'channel').reduce((bits, channel) => {
          const waits = !isBroughtOn(document, channel, programme) && !standingOf(programme, channel).muted;
          return waits && strip(channel.id) >= 0 ? bits | (1 << strip(channel.id)) : bits;
        }, 0)
      : 0,
    returns: Array.from({ length: MAX_GUESTS }, (_, place) => {
      const hearer = hearers.find((one) => one.place === place);
      if (!hearer) return null;
      const stripOf = (id: string) => (strip(id) < 0 ? undefined : strip(id));
      return returnSends(document, programme, hearer, switches.talk, stripOf);
    }),
    compare: strip(compare),
    focus: strip(listening.focus),
    echo: strip(listening.echo),
  };
}
