/** What the owner is told of who may do what, and what they can ask for. */
import Joi from 'joi';
import { LINK_ROLES, type Audited, type LinkRole, type Role } from '../core/access/roles';
import type { DoorAddress } from './door';

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
  /** The seat that a guest's link is for. */
  seatId: string | null;
}

export interface AuditEntry {
  seq: number;
  atMs: number;
  who: string;
  what: Audited;
  about: string;
}

/** Where others come in. */
export interface DoorsState {
  /** The local network. */
  house: { open: boolean; can: boolean; problem: string | null; addresses: DoorAddress[] };
  elsewhere: { url: string; connected: boolean; problem: string | null; addresses: DoorAddress[] } | null;
  /** The address that webhooks' addresses begin with; null while no door is connected. */
  hooks: string | null;
  /** Where programs of this computer come in; null while no door is beside the studio. */
  local: string | null;
}

export type ComputerOrder =
  | { intent: 'link'; role: LinkRole; name: string; hours: number; uses: number; seatId: string | null }
  | { intent: 'house'; open: boolean }
  | { intent: 'pair'; word: string }
  | { intent: 'unpair' }
  | { intent: 'revoke'; id: string }
  | { intent: 'keepFor'; days: number }
  | { intent: 'find'; letters: string }
  | { intent: 'forget'; platform: string; viewer: string };

const intent = (name: ComputerOrder['intent']) => Joi.string().valid(name).required();

/** As a form sends it. */
export const computerOrderSchema = Joi.alternatives<ComputerOrder>(
  Joi.object({
    intent: intent('link'),
    role: Joi.string()
      .valid(...LINK_ROLES)
      .required(),
    name: Joi.string().trim().min(1).max(60).required(),
    // 0: as long as it is not revoked; as often as one likes.
    hours: Joi.number().integer().min(0).max(8784).required(),
    uses: Joi.number().integer().min(0).max(1000).required(),
    seatId: Joi.string().max(64).empty('').allow(null).default(null),
  }),
  Joi.object({ intent: intent('house'), open: Joi.boolean().required() }),
  Joi.object({ intent: intent('pair'), word: Joi.string().trim().max(600).required() }),
  Joi.object({ intent: intent('unpair') }),
  Joi.object({ intent: intent('revoke'), id: Joi.string().max(64).required() }),
  Joi.object({ intent: intent('keepFor'), days: Joi.number().integer().min(0).max(36_500).required() }),
  Joi.object({ intent: intent('find'), letters: Joi.string().trim().min(1).max(200).required() }),
  Joi.object({
    intent: intent('forget'),
    platform: Joi.string().max(200).required(),
    viewer: Joi.string().max(2000).required(),
  }),
);

/** Of a token that was typed or pasted, or that came in an address. */
export const signInSchema = Joi.object<{ token: string }>({
  token: Joi.string().trim().min(20).max(200).required(),
}).unknown(true);
