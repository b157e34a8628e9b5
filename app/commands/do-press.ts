/** What each command does: the one place in which a press becomes something that happens. */
import type { Press } from '~/core/commands/commands';
import { flatCue } from '~/core/commands/cues';
import type { CommandSource } from '~/core/programme/commands';
import { standingOf } from '~/core/programme/programme-state';
import { canRun, segmentBefore, segmentOn } from '~/core/rundown/rundown';
import { isSeat, seatsOf, TALK_TO_WINGS } from '~/core/guests/seats';
import { findRecord } from '~/core/show/document';
import { order } from '../studio/order';
import type { ShowControl } from './show-control';

/** Fades that are meant as such take longer. */
const DRAG_STEP_SECONDS = 0.1;

/**
 * @param held of a command that is held: pressed, or let go
 * @returns what went wrong, in words for whoever pressed; nothing or null when it was done
 * @throws Error with words, as what it calls does
 */
export async function doPress(
  control: ShowControl,
  { command, params }: Press,
  by: CommandSource,
  held: boolean,
): Promise<string | null | void> {
  const { desk, store, bus } = control.parts;
  const { document, state } = control;
  const channel = findRecord(document, 'channel', text(params.channelId ?? params.musicId));
  const gone = (what: string) => `The ${what} it is for is not in the show any more.`;
  switch (command) {
    case 'take': {
      const next = control.next();
      if (!next) return 'Nothing is next: choose a scene, or add segments in Plan.';
      if ('segment' in next) return control.run(next.segment, by);
      return control.scene(next.stop.sceneId, 'own', next.stop.poseId, by);
    }
    case 'prepare':
      if (!findRecord(document, 'scene', text(params.sceneId))) return gone('scene');
      return control.prepare({ sceneId: text(params.sceneId)!, poseId: null }, by);
    case 'previous': {
      const on = segmentOn(document, state);
      const before = on && segmentBefore(document, on);
      if (!before) return 'There is no segment before this one.';
      return control.run(before, by);
    }
    case 'skipNext': {
      const next = control.next();
      if (!next || !('segment' in next)) return 'The rundown has no segment to skip.';
      store.edit(`Skip ${next.segment.name}`, [{ ...next.segment, skipped: true }]);
      return;
    }
    case 'jump': {
      const segment = findRecord(document, 'segment', text(params.segmentId));
      if (!segment) return gone('segment');
      if (!canRun(document, { ...segment, skipped: false })) return `The scene of “${segment.name}” is gone.`;
      return control.run(segment, by);
    }
    case 'scene': {
      if (!findRecord(document, 'scene', text(params.sceneId))) return gone('scene');
      const way = params.transition;
      if (way === 'cut' || way === 'fade') return control.quick(text(params.sceneId)!, way, by);
      return control.scene(text(params.sceneId)!, 'own', null, by);
    }
    case 'pose':
      if (!findRecord(document, 'pose', text(params.poseId))) return gone('pose');
      return control.pose(text(params.poseId)!, by);
    case 'draw': {
      const problem = control.draw(Number(params.share), by);
      return problem;
    }
    case 'back': {
      const { before } = control.snapshot();
      if (!before) return 'Nothing was on before control.';
      return control.scene(before.sceneId, 'own', before.poseId, by);
    }
    case 'clips': {
      const input = findRecord(document, 'input', text(params.clipsId));
      if (input?.source.type !== 'clips') return gone('input with clips');
      const playing = desk.snapshot().inputs.find(({ inputId }) => inputId === input.id)?.played?.playing;
      return desk.clips(input.id, { do: on(params.on, playing ?? false) ? 'play' : 'pause' });
    }
    case 'clipsTo':
      if (findRecord(document, 'input', text(params.clipsId))?.source.type !== 'clips')
        return gone('input with clips');
      return desk.clips(text(params.clipsId)!, { do: 'jump', toSeconds: Number(params.toSeconds) });
    case 'mute':
      if (!channel) return gone('channel');
      return control.mute(channel, on(params.on, standingOf(state, channel).muted), by);
    case 'level':
      if (!channel) return gone('channel');
      // A pad's drag says each of its steps with how little it may take, and its end without.
      if (by === 'pad' && params.seconds !== undefined && Number(params.seconds) <= DRAG_STEP_SECONDS)
        return control.level(channel, Number(params.gainDb), false, 0, by);
      return control.level(channel, Number(params.gainDb), true, Number(params.seconds ?? 0), by);
    case 'nudge':
      if (!channel) return gone('channel');
      return control.level(channel, standingOf(state, channel).gainDb + Number(params.gainDb), true, 0, by);
    case 'onlyVoices':
      return control.send([{ type: 'onlyVoices', on: on(params.on, state.onlyVoices) }], by);
    case 'muteAll':
      return desk.sound.setSwitches({ allMuted: on(params.on, desk.sound.switches.allMuted) });
    case 'cough':
      return desk.sound.setSwitches({ coughing: held });
    case 'keepAsStart':
      return control.keepAsStart();
    case 'backToStart':
      return control.backToStart(by);
    case 'effect': {
      const effect = findRecord(document, 'effect', text(params.effectId));
      return effect ? desk.sound.playEffect(effect) : gone('effect');
    }
    case 'stopEffects':
      return desk.sound.stopEffects(null, 0.3);
    case 'music': {
      if (channel?.source.type !== 'music') return gone('music channel');
      const playing = on(params.on, channel.source.playing);
      store.edit(`${playing ? 'Play' : 'Stop'} ${channel.name}`, [
        { ...channel, source: { ...channel.source, playing } },
      ]);
      return;
    }
    case 'skipMusic':
      if (channel?.source.type !== 'music') return gone('music channel');
      return desk.sound.skipMusic(channel.id);
    case 'title':
      if (!findRecord(document, 'title', text(params.titleId))) return gone('title');
      return control.title(
        text(params.titleId)!,
        params.seconds === undefined ? undefined : Number(params.seconds),
        by,
      );
    case 'queueTitle':
      if (!findRecord(document, 'title', text(params.titleId))) return gone('title');
      return control.queueTitle(text(params.titleId)!, by);
    case 'nextTitle':
      return control.nextTitle(by);
    case 'hideTitle':
      return control.hideTitle(by);
    case 'bringOn': {
      const seat = findRecord(document, 'input', text(params.seatId));
      if (!isSeat(seat)) return gone('seat');
      const now = state.seatsOn.includes(seat.id);
      return control.send([{ type: 'seat', inputId: seat.id, on: on(params.on, now) }], by);
    }
    case 'bringAllOn': {
      const seats = seatsOf(document);
      if (seats.length === 0) return 'The show has no seat for guests: add one in Stage.';
      const all = seats.every(({ id }) => state.seatsOn.includes(id));
      const wanted = on(params.on, all);
      return control.send(
        seats.map(({ id }) => ({ type: 'seat', inputId: id, on: wanted })),
        by,
      );
    }
    case 'talk': {
      const to = held ? (text(params.seatId) ?? TALK_TO_WINGS) : null;
      desk.sound.setSwitches({ talk: to });
      return bus.say({ type: 'talkTo', to });
    }
    case 'cue': {
      const cue = findRecord(document, 'cue', text(params.cueId));
      if (!cue) return gone('cue');
      const steps = flatCue(document, cue);
      if (!steps) return `“${cue.name}” calls itself: take that step out of it.`;
      return control.cues.start(cue.id, cue.name, steps);
    }
    case 'stopCues':
      return control.cues.stop(null);
    case 'poll': {
      const poll = findRecord(document, 'poll', text(params.pollId));
      if (!poll) return gone('poll');
      return control.send([{ type: 'poll', pollId: poll.id, seconds: poll.seconds }], by);
    }
    case 'endPoll':
      if (!state.poll || state.poll.endedMs !== null) return 'No poll is running.';
      return control.send([{ type: 'poll', pollId: null, seconds: 0 }], by);
    case 'skipAlert':
      return desk.audience({ type: 'alertOrder', order: 'skip' });
    case 'replayAlert':
      return desk.audience({ type: 'alertOrder', order: 'replay' });
    case 'pauseAlerts': {
      const paused = desk.snapshot().stage?.alerts.paused ?? false;
      return desk.audience({ type: 'alertOrder', order: on(params.on, paused) ? 'pause' : 'resume' });
    }
    case 'nextComment':
      return bus.say({ type: 'readOut', order: 'next', seq: null });
    case 'hideComment':
      return bus.say({ type: 'readOut', order: 'clear', seq: null });
    case 'hold':
      return control.send([{ type: 'hold', on: on(params.on, state.held) }], by);
    case 'showEdits':
      if (!state.held) return 'Nothing is held.';
      return control.send([{ type: 'hold', on: true }], by);
    case 'cover':
      return control.cover(on(params.on, bus.snapshot().relay?.session?.coverHeld ?? false), by);
    case 'emergency':
      desk.sound.setSwitches({ allMuted: true });
      return control.onAir ? control.cover(true, by) : undefined;
    case 'keep':
      return control.broadcast.keep();
    case 'marker':
      return control.broadcast.mark(text(params.words) ?? '');
    case 'goLive':
      return control.onAir ? 'The show is on air already.' : control.broadcast.begin('start');
    case 'stop':
      return control.onAir ? control.broadcast.begin('stop') : 'Nothing is on air.';
    case 'request': {
      const request = findRecord(document, 'request', text(params.requestId));
      if (!request) return gone('request');
      await order(`/show/${bus.showId}/outward`, { what: 'send', requestId: request.id });
      return;
    }
    case 'undo':
      control.undo();
      return;
    case 'redo':
      store.redo();
      return;
  }
}

const text = (value: unknown): string | null => (typeof value === 'string' ? value : null);

/** What a switch is to be: as it is said, or the other way round. */
const on = (said: unknown, now: boolean): boolean => (typeof said === 'boolean' ? said : !now);
