/** What the owner is told of who may do what, and what they can ask for. */
import Joi from 'joi';
import type { Audited, Role } from '../core/access/roles';

export interface AccessEntry {
  id: string;
  kind: 'browser' | 'link';
  role: Role;
  name: string;
  /** Milliseconds since 1970, all of them. */
  createdMs: number;
  seenMs: number | null;
  expiresMs: number | null;
  /** Null for as often as one likes. */
  usesLeft: number | null;
  /** The link it came in by. */
  linkId: string | null;
}

export interface AuditEntry {
  seq: number;
  atMs: number;
  who: string;
  what: Audited;
  about: string;
}

/** As a form sends it. */
export const accessOrderSchema = Joi.object<{ intent: 'revoke'; id: string }>({
  intent: Joi.string().valid('revoke').required(),
  id: Joi.string().max(64).required(),
});

/** Of a token that was typed or pasted, or that came in an address. */
export const signInSchema = Joi.object<{ token: string }>({
  token: Joi.string().trim().min(20).max(200).required(),
}).unknown(true);
