/** How much may come at once over each border of web server, door and relay. Limits of file formats stand with their formats. */

const KB = 1024;
const MB = 1024 * KB;

/** Bodies of the owner's requests. Files have none: room on the disk is looked at as they come. */
export const BODY_BYTES = {
  /** Forms and small orders. */
  usual: 64 * KB,
  /** A whole large show pasted at once: some thousand layers. */
  edits: 8 * MB,
  /** A picture of a show, for Home. */
  picture: 512 * KB,
  /** A token, and what is around it. */
  token: 4 * KB,
  /** Orders of the web server to the relay. */
  relayOrder: 256 * KB,
} as const;

/** One message over a socket. */
export const MESSAGE_BYTES = {
  /** A page of the studio. */
  bus: 64 * KB,
  /** Somebody at the door. */
  visitor: 256 * KB,
  /** Between door and studio. */
  door: MB,
  /** A desk's packet: a keyframe of a large picture. */
  uplink: 8 * MB,
  /** One picture for a camera of the system. */
  camera: 4 * MB,
} as const;

/** What one hook may bring. */
export const HOOK = {
  bytes: 256 * KB,
  /** Calls, and messages over its connections, in a second; more is a flood, and is told to come again later. */
  perSecond: 100,
  /** A connection that goes on above the limit until this many in a second is closed. */
  shutAtPerSecond: 1000,
  connections: 4,
} as const;

/** What the door takes. */
export const DOOR = {
  /** Requests of one household: a pad's presses and a program's events, with room; then so many a second. */
  burst: 300,
  perSecond: 120,
  /** What one socket may say in a second; a hook with more than its own limit is closed by the studio already. */
  saidPerSecond: 1500,
  /** Under way at the same time, open at the same time, and connected at all. */
  asked: 200,
  sockets: 300,
  connections: 600,
  /** Of all bodies that are on their way in: many may send slowly at once. */
  readingBytes: 16 * MB,
  /** Of what somebody, or the studio, is slow to take. */
  waitingBytes: 4 * MB,
  studioWaitingBytes: 16 * MB,
} as const;

/** Wrong tokens. Right ones are always taken. */
export const SIGN_IN = {
  /** That cost nothing. */
  freeTries: 10,
  /** What each one after them costs, doubled each time, up to a limit; forgotten after a while. */
  slowMs: 1000,
  slowestMs: 30_000,
  forgetMs: 15 * 60_000,
} as const;
