/**
 * Every way into the studio, and who may take it. What does not stand here is closed to everybody: a way that is new is
 * added here with whom it is for.
 */
import { BODY_BYTES } from './limits';
import type { Role } from './roles';

/** `all`: strangers too, since it lets nobody do anything. */
type Who = readonly Role[] | 'all';

export interface AccessRule {
  /** `read` is GET and HEAD, `write` everything else that has a body, `socket` an upgrade. */
  how: 'read' | 'write' | 'socket';
  /** Parts in the form `:name` stand for one part of any kind, `*` at the end for any rest. */
  path: string;
  who: Who;
  /** The largest body, bytes; null where what takes it has limits of its own. Without it the usual one. */
  maxBytes?: number | null;
}

/** Bodies that are not the usual kind. */
const BODIES: Readonly<Record<string, number | null>> = {
  edits: BODY_BYTES.edits,
  assets: null,
  'kit-in': null,
  picture: BODY_BYTES.picture,
};

const OWNER: Who = ['owner'];

/** The owner's side. What others reach stands in the door's table. */
export const ACCESS_TABLE: readonly AccessRule[] = [
  { how: 'read', path: '/sign-in', who: 'all' },
  { how: 'write', path: '/sign-in', who: 'all' },
  { how: 'read', path: '/sign-in.js', who: 'all' },
  // What the build made: the same for everybody, and nothing of the show.
  { how: 'read', path: '/assets/*', who: 'all' },
  { how: 'read', path: '/favicon.svg', who: 'all' },

  { how: 'read', path: '/', who: OWNER },
  { how: 'write', path: '/', who: OWNER },
  { how: 'write', path: '/archive', who: OWNER, maxBytes: null },
  { how: 'read', path: '/files', who: OWNER },
  { how: 'write', path: '/files', who: OWNER },
  { how: 'read', path: '/backups', who: OWNER },
  { how: 'write', path: '/backups', who: OWNER },
  { how: 'read', path: '/computer', who: OWNER },
  { how: 'write', path: '/computer', who: OWNER },
  { how: 'write', path: '/computer/ice', who: OWNER },
  { how: 'read', path: '/computer/viewer', who: OWNER },
  { how: 'read', path: '/controller', who: OWNER },
  { how: 'read', path: '/__manifest', who: OWNER },
  { how: 'read', path: '/show/:showId', who: OWNER },
  { how: 'socket', path: '/bus/:showId', who: OWNER },
  { how: 'socket', path: '/stand-in-guest/:showId/:number', who: OWNER },
  // Of a desk on another computer; one on this computer calls the relay itself.
  { how: 'socket', path: '/uplink', who: OWNER },
  { how: 'socket', path: '/camera', who: OWNER },
  { how: 'read', path: '/cameras', who: OWNER },

  ...(['plan', 'stage', 'sound', 'audience', 'delivery', 'air', 'vault', 'start'] as const).map(
    (place): AccessRule => ({
      how: 'read',
      path: `/show/:showId/${place}`,
      who: OWNER,
    }),
  ),
  { how: 'write', path: '/show/:showId/vault', who: OWNER },
  ...(
    [
      'edits',
      'parts',
      'preflight-facts',
      'input-address',
      'health',
      'lighter-copy',
      'entries',
      'event-sources',
      'outward',
      'past',
      'fonts',
      'computer-sounds',
    ] as const
  ).map((name): AccessRule => ({ how: 'read', path: `/show/:showId/${name}`, who: OWNER })),
  ...(
    [
      'edits',
      'assets',
      'picture',
      'archive',
      'kit',
      'kit-in',
      'keys',
      'broadcast',
      'recording-folder',
      'line-test',
      'accounts',
      'connectors',
      'announce',
      'lighter-copy',
      'input-address',
      'test-event',
      'entries',
      'event-sources',
      'outward',
      'guest-link',
    ] as const
  ).map((name): AccessRule => ({
    how: 'write',
    path: `/show/:showId/${name}`,
    who: OWNER,
    ...(name in BODIES && { maxBytes: BODIES[name] }),
  })),
  { how: 'read', path: '/show/:showId/reports/:eveningId/:format', who: OWNER },
  { how: 'read', path: '/show/:showId/moments/:eveningId', who: OWNER },

  { how: 'read', path: '/files/pictures/:showId', who: OWNER },
  { how: 'read', path: '/files/assets/:id', who: OWNER },
  { how: 'read', path: '/files/emotes/:platform/:id', who: OWNER },
  { how: 'read', path: '/files/speech', who: OWNER },
  { how: 'read', path: '/files/inputs/:id', who: OWNER },
  { how: 'read', path: '/files/sounds/:id', who: OWNER },
  { how: 'read', path: '/files/recordings/:id', who: OWNER },
];

function matches(pattern: string, parts: readonly string[]): boolean {
  const wanted = pattern.split('/');
  for (const [i, part] of wanted.entries()) {
    if (part === '*') return parts.length > i && parts[i] !== '';
    if (i >= parts.length) return false;
    if (part.startsWith(':') ? parts[i] === '' : part !== parts[i]) return false;
  }
  return parts.length === wanted.length;
}

/** A path as it is looked up: the framework asks for a page's data by the page's address with this at its end. */
function pageOf(path: string): string {
  if (path === '/_root.data' || path === '/_.data') return '/';
  return path.endsWith('.data') ? path.slice(0, -'.data'.length) : path;
}

/**
 * The rule for a request; null when there is none, and nobody may.
 * @param path without its query, still percent-encoded, as it came
 * @param table the owner's side, unless another is named
 */
export function ruleFor(
  how: AccessRule['how'],
  path: string,
  table: readonly AccessRule[] = ACCESS_TABLE,
): AccessRule | null {
  const parts = pageOf(path).split('/').map(plainPart);
  // Who sends such signs means to look like something else.
  if (parts.some((part, i) => part === null || (part === '' && i > 0 && parts.length > 2))) return null;
  return table.find((rule) => rule.how === how && matches(rule.path, parts as string[])) ?? null;
}

/** One part of a path as it is meant; null for one that could be read as several, or as another folder. */
function plainPart(part: string): string | null {
  try {
    const plain = decodeURIComponent(part);
    return /[/\\\u0000-\u001f]|^\.{1,2}$/.test(plain) ? null : plain;
  } catch {
    return null;
  }
}

/** Whether somebody may. @param role null for a stranger */
export function mayGo(rule: AccessRule | null, role: Role | null): boolean {
  if (!rule) return false;
  return rule.who === 'all' || (role !== null && rule.who.includes(role));
}

/**
 * Whether a body may come.
 * @param length as `Content-Length` says it, which HTTP keeps to; null when the body has none
 * @returns why not, or null
 */
export function bodyProblem(rule: AccessRule, length: number | null): 'unknown' | 'large' | null {
  const most = rule.maxBytes === undefined ? BODY_BYTES.usual : rule.maxBytes;
  if (most === null) return null;
  if (length === null) return 'unknown';
  return length <= most ? null : 'large';
}
