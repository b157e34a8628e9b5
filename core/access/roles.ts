/** Who there is beside strangers. */
export const ROLES = ['owner', 'operator', 'guest', 'watcher'] as const;
export type Role = (typeof ROLES)[number];

/** Roles that a link can give: there is one owner, who signs in by the address that the studio prints. */
export type LinkRole = Exclude<Role, 'owner'>;

/** In the order in which they are offered. */
export const LINK_ROLES = ['watcher', 'operator', 'guest'] as const satisfies readonly LinkRole[];

/** What is written down of what people did, by name. */
export const AUDITED = [
  'signedIn',
  'signInRefused',
  'linkMade',
  'left',
  'doorPaired',
  'doorUnpaired',
  'doorOpened',
  'doorClosed',
  'revoked',
  'secretSet',
  'secretRemoved',
  'hostAllowed',
  'wentLive',
  'stopped',
  'deleted',
  'exported',
  'restored',
  'connectorAdded',
  'connectorRemoved',
  'filesRemoved',
  'filesRestored',
] as const;
export type Audited = (typeof AUDITED)[number];

/** Why a page's connection is closed whose browser was signed out. */
export const REVOKED = 'revoked';
