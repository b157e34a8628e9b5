/**
 * Every way in at the door, where strangers come: whom the studio lets through, and how much is passed on to it at once.
 * What does not stand here is not passed on. The owner does not come this way; the door would have to be trusted with them.
 */
import type { AccessRule } from './access-table';
import { BODY_BYTES, HOOK } from './limits';
import type { LinkRole } from './roles';

/** Everybody who may look may see how the show stands. */
const ANYBODY_KNOWN: readonly LinkRole[] = ['operator', 'guest', 'watcher'];

export const DOOR_TABLE: readonly AccessRule[] = [
  // The door's own pages: the same for everybody, and nothing of the show in them.
  { how: 'read', path: '/', who: 'all' },
  { how: 'read', path: '/door.js', who: 'all' },
  { how: 'read', path: '/pad', who: 'all' },
  { how: 'read', path: '/pad.js', who: 'all' },
  { how: 'read', path: '/guest', who: 'all' },
  { how: 'read', path: '/guest.js', who: 'all' },
  { how: 'read', path: '/favicon.svg', who: 'all' },
  { how: 'write', path: '/come-in', who: 'all', maxBytes: BODY_BYTES.token },
  { how: 'write', path: '/leave', who: 'all', maxBytes: BODY_BYTES.token },
  { how: 'read', path: '/standing', who: ANYBODY_KNOWN },
  { how: 'socket', path: '/standing', who: ANYBODY_KNOWN },
  { how: 'socket', path: '/guest', who: ['guest'] },
  // Pads, and programs that press by what a pad may press.
  { how: 'socket', path: '/pad', who: ['operator'] },
  { how: 'write', path: '/press', who: ['operator'], maxBytes: BODY_BYTES.token },
  { how: 'read', path: '/state', who: ['operator'] },
  { how: 'read', path: '/commands', who: ['operator'] },
  // What programs may ask, for whoever writes one: the same for everybody.
  { how: 'read', path: '/openapi.json', who: 'all' },
  { how: 'read', path: '/asyncapi.json', who: 'all' },
  // Signed by themselves.
  { how: 'write', path: '/hooks/:hookId', who: 'all', maxBytes: HOOK.bytes },
  { how: 'socket', path: '/hooks/:hookId', who: 'all' },
];

/** Whether what comes is signed by itself, so that no page can have lured anybody into sending it. */
export const isSigned = (rule: AccessRule): boolean => rule.path.startsWith('/hooks/');
