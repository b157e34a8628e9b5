import type { WebSocket } from 'ws';
import type { CameraFormat, CameraPlace, CameraState } from '../../protocol/camera';
import { cameraFormatSchema } from '../../protocol/camera';
import { CameraOut } from './camera-out';

/** Places that are in use: two pages writing into one camera would tear each other's pictures. */
const taken = new Set<string>();

/** A page that offers a frame as a camera: the first message says what comes, all others are pictures. */
export function cameraSocket(ws: WebSocket, places: () => Promise<readonly CameraPlace[]>): void {
  let camera: CameraOut | null = null;
  let asked = false;
  const say = (state: CameraState) => {
    if (ws.readyState === ws.OPEN) ws.send(JSON.stringify(state));
  };
  const begin = async (text: string) => {
    const format = formatOf(text);
    const place = format && (await places()).find(({ id }) => id === format.placeId);
    if (!format || !place)
      return say({
        state: 'failed',
        message: 'That camera is not on this computer any more. Choose another.',
      });
    if (taken.has(place.path))
      return say({ state: 'failed', message: `${place.name} is in use by another window of the studio.` });
    if (ws.readyState !== ws.OPEN) return;
    taken.add(place.path);
    camera = new CameraOut(place, format, say);
    await camera.open();
  };
  ws.on('message', (data: Buffer, isBinary) => {
    if (isBinary) camera?.write(data);
    else if (!asked) {
      asked = true;
      void begin(data.toString('utf8'));
    }
  });
  ws.on('error', () => ws.terminate());
  ws.on('close', () => {
    if (!camera) return;
    const { path } = camera.place;
    void camera.close().finally(() => taken.delete(path));
  });
}

function formatOf(text: string): CameraFormat | null {
  try {
    const { error, value } = cameraFormatSchema.validate(JSON.parse(text));
    return error ? null : (value as CameraFormat);
  } catch {
    return null;
  }
}
