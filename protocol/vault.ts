/** What pages are told about copies that are being made, and about lines that were tested. */
import Joi from 'joi';
import type { LineMeasure } from '../core/delivery/line-measure';

export interface VaultJob {
  id: string;
  recordingId: string;
  /** What it makes, for people. */
  name: string;
  to: 'mp4' | 'mkv';
  fromSeconds: number | null;
  toSeconds: number | null;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  /** 0…1 */
  progress: number;
  message: string;
}

export interface LineTestResult extends LineMeasure {
  /** From the first byte of a handshake to its answer with nothing else on the line, ms. */
  idleRoundTripMs: number;
  /** The same while the line is full; null when no answer came. */
  loadedRoundTripMs: number | null;
}

export interface LineTest extends LineTestResult {
  id: string;
  destinationId: string;
  /** Name of the server, or the host of its address. */
  server: string;
  atMs: number;
}

export interface RewrapForm {
  recordingId: string;
  to: 'mp4' | 'mkv';
  fromSeconds: number | null;
  toSeconds: number | null;
  title: string;
}

const seconds = Joi.number().min(0).max(1e6).empty('').allow(null).default(null);

export const rewrapFormSchema = Joi.object<RewrapForm>({
  recordingId: Joi.string().max(200).required(),
  to: Joi.string().valid('mp4', 'mkv').required(),
  fromSeconds: seconds,
  toSeconds: seconds,
  title: Joi.string().trim().allow('').max(120).default(''),
});
