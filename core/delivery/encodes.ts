import type { DestinationSettings, FrameName, FramePlan, PlanSettings, RecordedPicture } from './settings';

/**
 * Two for each frame: what all but a few destinations share, and one more for those it does not suit. And the wide picture
 * without what viewers cause, for the recording alone.
 */
export const ENCODE_IDS = ['wide', 'tall', 'wide-2', 'tall-2', 'clean'] as const;
export type EncodeId = (typeof ENCODE_IDS)[number];

export function frameOf(encode: EncodeId): FrameName {
  return encode === 'tall' || encode === 'tall-2' ? 'tall' : 'wide';
}

/** The encode every frame has, which recordings and lookback are made of. */
export function isMain(encode: EncodeId): encode is FrameName {
  return encode === 'wide' || encode === 'tall';
}

/** One more of a frame, for destinations the main one does not suit. */
export function isSecond(encode: EncodeId): boolean {
  return encode === 'wide-2' || encode === 'tall-2';
}

/** Whether this encode is recorded when its picture is wanted. */
export function isRecorded(encode: EncodeId): encode is RecordedPicture {
  return !isSecond(encode);
}

/** The wide picture again for the recording, without what viewers cause; as good as the main one. */
export function cleanEncode({ width, height, videoKbps }: FramePlan): Encode {
  return {
    id: 'clean',
    frame: 'wide',
    width,
    height,
    videoKbps,
    destinationIds: [],
    reencoded: [],
    because: 'recorded without alerts and chat',
  };
}

/** What the server makes out of an encode for one destination. */
export interface Reencoded {
  destinationId: string;
  width: number;
  height: number;
  videoKbps: number;
}

export interface Encode {
  id: EncodeId;
  frame: FrameName;
  width: number;
  height: number;
  videoKbps: number;
  /** Who gets it, or what the server makes of it. */
  destinationIds: string[];
  reencoded: Reencoded[];
  /** Why it is there, in a sentence. */
  because: string;
}

export type Recipient = Pick<DestinationSettings, 'frame' | 'capKbps' | 'ownKbps' | 'encodedBy'> & {
  id: string;
  name: string;
};

/** A destination without a rate of its own is content with this share of the plan, when that saves an encode. */
const CONTENT_WITH = 0.7;
/** Own rates this close together are the same. */
const OWN_TOLERANCE = 0.05;
const LEAST_KBPS = 100;

interface Range {
  recipient: Recipient;
  least: number;
  most: number;
}

/** Rates of pictures a destination is content with, kbps. */
function rangeOf(recipient: Recipient, planned: number, audioKbps: number): Range {
  const cap = recipient.capKbps === null ? Infinity : Math.max(LEAST_KBPS, recipient.capKbps - audioKbps);
  if (recipient.ownKbps !== null) {
    const most = Math.min(recipient.ownKbps, cap);
    return { recipient, least: most * (1 - OWN_TOLERANCE), most };
  }
  const most = Math.min(planned, cap);
  return { recipient, least: most * CONTENT_WITH, most };
}

/**
 * The fewest encodes that satisfy all destinations of one frame: each destination is content with a range of rates, and
 * the fewest rates that lie in every range are found by taking, again and again, the highest rate the most restricted
 * one left can take (stabbing intervals: optimal for any set of ranges). More than two would be asked for only by very
 * different destinations; then the most demanding share the second.
 */
function encodesOfFrame(
  frame: FrameName,
  plan: FramePlan,
  audioKbps: number,
  recipients: readonly Recipient[],
): Encode[] {
  const ids: EncodeId[] = frame === 'wide' ? ['wide', 'wide-2'] : ['tall', 'tall-2'];
  const ranges = recipients
    .filter((r) => r.encodedBy === 'desk')
    .map((r) => rangeOf(r, plan.videoKbps, audioKbps))
    .sort((a, b) => a.most - b.most);
  // These do not care what the desk makes: the server makes theirs of it.
  const atServer = recipients.filter((r) => r.encodedBy === 'server');
  const groups: { kbps: number; of: Range[] }[] = [];
  for (const range of ranges) {
    const last = groups.at(-1);
    if (last && (range.least <= last.kbps || groups.length === ids.length)) last.of.push(range);
    else groups.push({ kbps: range.most, of: [range] });
  }
  // Nothing to send: the frame is still made, for the recording, at the plan's rate.
  if (groups.length === 0) groups.push({ kbps: plan.videoKbps, of: [] });
  // The main encode, which is recorded, is the best one.
  groups.reverse();
  return groups.map((group, i) => {
    const encode: Encode = {
      id: ids[i],
      frame,
      ...sizeFor(plan, group.kbps),
      videoKbps: Math.floor(group.kbps),
      destinationIds: group.of.map((r) => r.recipient.id),
      reencoded: [],
      because:
        group.of.length === 0 && atServer.length > 0
          ? 'nobody takes it as it is'
          : reason(group, plan, groups.length),
    };
    return i > 0 ? encode : atServer.reduce<Encode>((e, r) => withReencoded(e, r, plan, audioKbps), encode);
  });
}

/** The encode with one more recipient, for whom the server makes less of it; what is little enough goes out as it is. */
function withReencoded(encode: Encode, recipient: Recipient, plan: FramePlan, audioKbps: number): Encode {
  const kbps = Math.floor(rangeOf(recipient, plan.videoKbps, audioKbps).most);
  const made: Reencoded = { destinationId: recipient.id, ...sizeFor(plan, kbps), videoKbps: kbps };
  return {
    ...encode,
    destinationIds: [...encode.destinationIds, recipient.id],
    ...(kbps < encode.videoKbps && {
      reencoded: [...encode.reencoded, made],
      because: `${encode.because}; the server makes ${kbps} kbps of it for ${recipient.name}`,
    }),
  };
}

/** Rate of the pictures that one destination gets, kbps. */
export function kbpsFor(encode: Encode, destinationId: string): number {
  return encode.reencoded.find((r) => r.destinationId === destinationId)?.videoKbps ?? encode.videoKbps;
}

function reason(group: { kbps: number; of: Range[] }, plan: FramePlan, encodes: number): string {
  const names = group.of.map((r) => r.recipient.name).join(' and ');
  if (group.of.length === 0) return 'Recording only';
  const own = group.of.find((r) => r.recipient.ownKbps !== null && r.most === group.kbps);
  if (own) return `${own.recipient.name} has its own bitrate, ${Math.floor(group.kbps)} kbps`;
  if (group.kbps < plan.videoKbps) {
    const capped = group.of.find((r) => r.most === group.kbps)!;
    return `${capped.recipient.name} takes no more than ${capped.recipient.capKbps} kbps${group.of.length > 1 ? '. Others share it' : ''}`;
  }
  return encodes > 1 ? `for ${names}` : group.of.length > 1 ? `one for all: ${names}` : `for ${names}`;
}

/** A much lower rate than planned is spent on fewer pixels: half the sides below 45 % of the rate. */
function sizeFor(plan: FramePlan, kbps: number): { width: number; height: number } {
  if (kbps >= plan.videoKbps * 0.45) return { width: plan.width, height: plan.height };
  const even = (side: number) => Math.max(64, Math.round(side / 3) * 2);
  return { width: even(plan.width), height: even(plan.height) };
}

/** Fewest encodes that satisfy all these destinations, with who gets which. */
export function shareEncodes(
  plan: Pick<PlanSettings, 'frames' | 'audioKbps'>,
  recipients: readonly Recipient[],
  frames: readonly FrameName[],
): Encode[] {
  return frames.flatMap((frame) => {
    const framePlan = plan.frames[frame];
    if (!framePlan) return [];
    return encodesOfFrame(
      frame,
      framePlan,
      plan.audioKbps,
      recipients.filter((r) => r.frame === frame),
    );
  });
}

/**
 * Who gets which encode when destinations change during a broadcast. What runs goes on as it is, and who is content with
 * what it gets keeps it; another destination takes an encode that runs and suits it, else a new one, else the nearest
 * that is not too much for it.
 */
export function shareMore(
  running: readonly Encode[],
  plan: Pick<PlanSettings, 'frames' | 'audioKbps'>,
  recipients: readonly Recipient[],
): Encode[] {
  const encodes: Encode[] = running.map((e) => ({ ...e, destinationIds: [], reencoded: [] }));
  for (const recipient of recipients) {
    const framePlan = plan.frames[recipient.frame];
    const of = encodes.filter((e) => e.frame === recipient.frame && e.id !== 'clean');
    const main = encodes.findIndex((e) => e.frame === recipient.frame && isMain(e.id));
    if (recipient.encodedBy === 'server' && main >= 0 && framePlan) {
      encodes[main] = withReencoded(encodes[main], recipient, framePlan, plan.audioKbps);
      continue;
    }
    const before = running.find((e) => e.destinationIds.includes(recipient.id))?.id;
    const { least, most } = rangeOf(recipient, framePlan?.videoKbps ?? of[0]?.videoKbps ?? 0, plan.audioKbps);
    const suits = of.filter((e) => e.videoKbps >= Math.floor(least) && e.videoKbps <= most);
    const chosen = suits.find((e) => e.id === before) ?? suits.sort((a, b) => b.videoKbps - a.videoKbps)[0];
    const free = ENCODE_IDS.find(
      (id) => id !== 'clean' && frameOf(id) === recipient.frame && !encodes.some((e) => e.id === id),
    );
    if (chosen) chosen.destinationIds.push(recipient.id);
    else if (free && framePlan)
      encodes.push({
        id: free,
        frame: recipient.frame,
        ...sizeFor(framePlan, most),
        videoKbps: Math.floor(most),
        destinationIds: [recipient.id],
        reencoded: [],
        because: `for ${recipient.name}, which came while live`,
      });
    else {
      // Rather a little too much than nothing at all, when there is nothing else.
      const nearest =
        of.filter((e) => e.videoKbps <= most).sort((a, b) => b.videoKbps - a.videoKbps)[0] ??
        of.sort((a, b) => a.videoKbps - b.videoKbps)[0];
      nearest?.destinationIds.push(recipient.id);
    }
  }
  return encodes;
}

/** What leaves for all destinations together, kbps, sound included. */
export function uploadKbps(encodes: readonly Encode[], audioKbps: number): number {
  return encodes.reduce(
    (sum, e) => e.destinationIds.reduce((one, id) => one + kbpsFor(e, id) + audioKbps, sum),
    0,
  );
}
