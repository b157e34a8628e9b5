import type { SimulatedPicture } from '../../../core/show/records';
import { DeskCameraPainter } from './desk-camera';
import { LeverCameraPainter } from './lever-camera';
import type { Painter } from './painter';
import { SnowstormPainter } from './snowstorm';
import { SwitchbackPainter } from './switchback';
import { SyncClapperPainter } from './sync-clapper';

const PAINTERS: Record<SimulatedPicture, new () => Painter> = {
  'desk-camera': DeskCameraPainter,
  'lever-camera': LeverCameraPainter,
  switchback: SwitchbackPainter,
  'sync-clapper': SyncClapperPainter,
  snowstorm: SnowstormPainter,
};

export function createPainter(picture: SimulatedPicture): Painter {
  return new PAINTERS[picture]();
}
