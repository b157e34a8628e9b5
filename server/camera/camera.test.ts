import { EventEmitter } from 'node:events';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { WebSocket } from 'ws';
import { afterEach, beforeEach, expect, test } from 'vitest';
import type { CameraPlace } from '../../protocol/camera';
import { cameraArgs, CameraOut } from './camera-out';
import { cameraPlaces, loopbackDevices } from './camera-places';
import { cameraSocket } from './camera-socket';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-camera-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** A system with these devices, as Linux lists them. */
function system(devices: { id: string; name: string; under: string; mode?: number }[]) {
  const [listed, nodes] = [path.join(folder, 'class'), path.join(folder, 'dev')];
  mkdirSync(listed);
  mkdirSync(nodes);
  for (const { id, name, under, mode = 0o600 } of devices) {
    const real = path.join(folder, under, id);
    mkdirSync(real, { recursive: true });
    writeFileSync(path.join(real, 'name'), `${name}\n`);
    symlinkSync(real, path.join(listed, id));
    writeFileSync(path.join(nodes, id), '');
    chmodSync(path.join(nodes, id), mode);
  }
  return [listed, nodes] as const;
}

test('loopback devices are found among cameras, by name and in order', async () => {
  const virtual = 'devices/virtual/video4linux';
  const of = system([
    { id: 'video10', name: 'Studio out', under: virtual },
    { id: 'video2', name: '', under: virtual },
    { id: 'video0', name: 'Desk camera', under: 'devices/pci0000/usb1/video4linux' },
    { id: 'radio0', name: 'Radio', under: virtual },
  ]);
  expect((await loopbackDevices(...of)).map(({ id, name }) => [id, name])).toEqual([
    ['video2', 'video2'],
    ['video10', 'Studio out'],
  ]);
  expect(await loopbackDevices(path.join(folder, 'nothing'))).toEqual([]);
  expect((await cameraPlaces(folder)).at(-1)).toMatchObject({ type: 'pipe', id: 'pipe' });
});

const FORMAT = { placeId: 'pipe', width: 640, height: 360, fps: 30 };
const pipe = (): CameraPlace => ({
  ...{ id: 'pipe', type: 'pipe', name: 'camera.y4m', path: path.join(folder, 'camera.y4m') },
});

test('a loopback device gets raw pictures of the size that was said, a pipe YUV4MPEG2', () => {
  const device: CameraPlace = { id: 'video2', type: 'device', name: 'Out', path: '/dev/video2' };
  expect(cameraArgs(device, FORMAT).join(' ')).toMatch(/-s 640x360 -pix_fmt yuv420p -f v4l2 \/dev\/video2$/);
  expect(cameraArgs(pipe(), FORMAT).join(' ')).toMatch(/-f yuv4mpegpipe \S+camera\.y4m$/);
});

test('what lies where the pipe is to be is not removed: it is said', async () => {
  writeFileSync(pipe().path, 'precious');
  const said: unknown[] = [];
  await new CameraOut(pipe(), FORMAT, (state) => said.push(state)).open();
  expect(said).toEqual([{ state: 'failed', message: expect.stringMatching(/in the way/) as string }]);
});

class Socket extends EventEmitter {
  readonly OPEN = 1;
  readyState = 1;
  said: { state: string; message?: string }[] = [];
  send(text: string) {
    this.said.push(JSON.parse(text) as { state: string });
  }
}
const opened = (places: readonly CameraPlace[]) => {
  const socket = new Socket();
  cameraSocket(socket as unknown as WebSocket, () => Promise.resolve(places));
  return socket;
};
const hear = (socket: Socket, text: string) => socket.emit('message', Buffer.from(text), false);

test('of two windows that want one camera the second is told; what is no format, and a camera that has gone, too', async () => {
  const [first, second] = [opened([pipe()]), opened([pipe()])];
  hear(first, JSON.stringify(FORMAT));
  await expect.poll(() => first.said[0]?.state).toBe('waiting');
  hear(second, JSON.stringify(FORMAT));
  await expect.poll(() => second.said[0]?.message).toMatch(/in use by another window/);
  for (const bad of [
    '{',
    '{}',
    JSON.stringify({ ...FORMAT, width: 641 }),
    JSON.stringify({ ...FORMAT, placeId: '../x' }),
  ]) {
    const socket = opened([pipe()]);
    hear(socket, bad);
    await expect.poll(() => socket.said[0]?.message).toMatch(/not on this computer any more/);
  }
  first.emit('close');
  const again = opened([pipe()]);
  await expect
    .poll(() => {
      const socket = opened([pipe()]);
      hear(socket, JSON.stringify(FORMAT));
      return new Promise((resolve) => setTimeout(() => resolve(socket.said[0]?.state), 100)).finally(() =>
        socket.emit('close'),
      );
    })
    .toBe('waiting');
  again.emit('close');
});
