import { CAMERA_CONTROLS, type CameraControls } from '../../inputs/camera-controls';
import { PLAIN_INPUT_KIND, simulated, type InputKind } from '../input-kind';
import { flag, number, whole, words } from '../shape';

export interface CameraSource {
  type: 'camera';
  deviceId: string;
  deviceLabel: string;
  width: number;
  height: number;
  fps: number;
  /** Set by hand, in the camera's own units; the rest it does by itself. */
  controls: CameraControls;
  /** Its pictures are of two fields each, as of a capture card that takes 1080i. */
  deinterlace: boolean;
}

export const camera: InputKind<CameraSource> = {
  ...PLAIN_INPUT_KIND,
  name: 'camera',
  shape: {
    deviceId: words(200),
    deviceLabel: words(200),
    width: whole(16, 7680),
    height: whole(16, 4320),
    fps: number(1, 240),
    controls: { is: 'named', names: CAMERA_CONTROLS, of: number(-1e9, 1e9) },
    deinterlace: flag,
  },
  role: () => 'person',
  opaque: () => true,
  ...{ ground: true, corner: true, live: true, previewed: simulated('desk-camera') },
};
