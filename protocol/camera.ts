/**
 * A frame as a camera of the system, for calls and other programs. The page opens a socket, says what it sends, and sends
 * pictures as H.264 in Annex B, one message each, the first one a keyframe; the server says how it goes.
 */
import Joi from 'joi';

/** Where a camera can be offered. */
export interface CameraPlace {
  id: string;
  /** `device`: a loopback device of the system, `pipe`: a named pipe that programs read YUV4MPEG2 from. */
  type: 'device' | 'pipe';
  /** As other programs show it. */
  name: string;
  path: string;
}

export interface CameraFormat {
  placeId: string;
  width: number;
  height: number;
  /** Pictures a second, at most. */
  fps: number;
}

export type CameraState =
  /** Nobody reads the pipe yet. */
  { state: 'waiting' } | { state: 'running' } | { state: 'failed'; message: string };

export const cameraFormatSchema = Joi.object({
  placeId: Joi.string().max(40).required(),
  width: Joi.number().integer().min(16).max(4096).multiple(2).required(),
  height: Joi.number().integer().min(16).max(4096).multiple(2).required(),
  fps: Joi.number().min(1).max(120).required(),
}).required();
