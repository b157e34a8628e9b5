import { constants } from 'node:fs';
import { access, readdir, readFile, realpath } from 'node:fs/promises';
import path from 'node:path';
import type { CameraPlace } from '../../protocol/camera';

/** Where Linux lists its video devices; a device that no hardware stands behind lies under `virtual`. */
const DEVICES = '/sys/class/video4linux';
const VIRTUAL = '/devices/virtual/';

export const PIPE_ID = 'pipe';

/**
 * Loopback devices of this system: what is written into one comes out of it as a camera. Only those that this user may
 * write to.
 * @param devices where they are listed @param nodes where their files are
 */
export async function loopbackDevices(devices = DEVICES, nodes = '/dev'): Promise<CameraPlace[]> {
  // None are listed where the system has none, or is another one.
  const ids = await readdir(devices).catch(() => []);
  const places: CameraPlace[] = [];
  for (const id of ids.filter((one) => /^video\d+$/.test(one)).sort(byNumber)) {
    try {
      if (!(await realpath(path.join(devices, id))).includes(VIRTUAL)) continue;
      const file = path.join(nodes, id);
      await access(file, constants.R_OK | constants.W_OK);
      const name = (await readFile(path.join(devices, id, 'name'), 'utf8')).trim();
      places.push({ id, type: 'device', name: name || id, path: file });
    } catch {
      // It went meanwhile, or belongs to somebody else: it cannot be offered.
    }
  }
  return places;
}

const byNumber = (a: string, b: string) => Number(a.slice(5)) - Number(b.slice(5));

/** All places a camera can be offered at. @param folder where the pipe is made */
export async function cameraPlaces(folder: string): Promise<CameraPlace[]> {
  // Named pipes of this kind are made by Unix alone.
  if (process.platform === 'win32') return [];
  const pipe: CameraPlace = {
    ...{ id: PIPE_ID, type: 'pipe', name: 'camera.y4m' },
    path: path.join(folder, 'camera.y4m'),
  };
  return [...(await loopbackDevices()), pipe];
}
