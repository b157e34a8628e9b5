/**
 * Guests: people who come by a link and are connected with the desk's page. A seat is an input of the show that is there
 * before anybody comes; whoever sits on it is seen and heard where the seat is, once they are brought on.
 */
import type { ProgrammeState } from '../programme/programme-state';
import { channelKindOf } from '../show/channel-kinds';
import { findRecord, recordsOf, type ShowDocument } from '../show/document';
import type { ChannelRecord, InputRecord, InputSource } from '../show/records';
import type { ReturnSend } from '../sound/return-mix';

/** People at once: each is a connection of its own with the desk. */
export const MAX_GUESTS = 8;
/** What a guest is called, letters. */
export const MAX_NAME = 40;

export type SeatRecord = InputRecord & { source: Extract<InputSource, { type: 'seat' }> };

export const isSeat = (input: InputRecord | null): input is SeatRecord => input?.source.type === 'seat';

export const seatsOf = (document: ShowDocument): SeatRecord[] => recordsOf(document, 'input').filter(isSeat);

/** The seat that a channel is the sound of; null for every other channel. */
export function seatOfChannel(document: ShowDocument, { source }: ChannelRecord): SeatRecord | null {
  if (source.type !== 'input') return null;
  const input = findRecord(document, 'input', source.inputId);
  return isSeat(input) ? input : null;
}

/** Whether viewers may hear a channel as far as seats go: nobody is heard before they are brought on. */
export function isBroughtOn(document: ShowDocument, channel: ChannelRecord, state: ProgrammeState): boolean {
  const seat = seatOfChannel(document, channel);
  return seat === null || state.seatsOn.includes(seat.id);
}

/** A person's microphone at the desk: what talks to the wings. */
export function isTalker(document: ShowDocument, channel: ChannelRecord): boolean {
  const { role, source } = channel;
  return role === 'voice' && channelKindOf(source).spoken && seatOfChannel(document, channel) === null;
}

/** Talking to everybody who waits in the wings; else it is the id of a seat. */
export const TALK_TO_WINGS = 'wings';

/** Somebody who gets a return. */
export interface Hearer {
  /** Of the return, 0…`MAX_GUESTS` − 1. */
  place: number;
  /** Null: in the wings without a seat. */
  seatId: string | null;
}

/** Whether the desk's voice goes to somebody just now. @param talk null, `TALK_TO_WINGS`, or a seat's id */
export function isTalkedTo(state: ProgrammeState, { seatId }: Hearer, talk: string | null): boolean {
  if (talk === null) return false;
  if (talk === TALK_TO_WINGS) return seatId === null || !state.seatsOn.includes(seatId);
  return talk === seatId;
}

/**
 * What a guest hears, by strip of the mixer: on air the programme without themselves; in the wings the others who wait
 * there, whoever talks to them, and the programme too where their seat says so.
 *
 * @param stripOf the strip of a channel, if it has one
 */
export function returnSends(
  document: ShowDocument,
  state: ProgrammeState,
  hearer: Hearer,
  talk: string | null,
  stripOf: (channelId: string) => number | undefined,
): ReturnSend[] {
  const own = findRecord(document, 'input', hearer.seatId);
  const on = hearer.seatId !== null && state.seatsOn.includes(hearer.seatId);
  const programme: ReturnSend = on || (isSeat(own) && own.source.hearsProgramme) ? 'programme' : 'none';
  const talked = isTalkedTo(state, hearer, talk);
  const sends: ReturnSend[] = [];
  const send = (channel: ChannelRecord): ReturnSend => {
    const seat = seatOfChannel(document, channel);
    if (seat !== null && seat.id === hearer.seatId) return 'none';
    if (seat !== null && !state.seatsOn.includes(seat.id))
      return on || (state.mutes[channel.id] ?? channel.muted) ? 'none' : 'talk';
    if (talked && isTalker(document, channel)) return 'talk';
    return programme;
  };
  for (const channel of recordsOf(document, 'channel')) {
    const strip = stripOf(channel.id);
    if (strip === undefined) continue;
    while (sends.length < strip) sends.push('none');
    sends[strip] = send(channel);
  }
  return sends;
}
