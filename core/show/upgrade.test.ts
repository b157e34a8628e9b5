import { expect, test } from 'vitest';
import { sampleInput, sampleShow } from './sample-show';
import { upgraded } from './upgrade';

test('records of earlier versions get what they did not have yet; those of this one stay as they are', () => {
  const { kits: _, ...oldShow } = sampleShow;
  const camera = sampleInput('cam', {
    source: { type: 'camera', deviceId: '', deviceLabel: '', width: 640, height: 360, fps: 30, controls: {} },
  });
  const { controls: _c, ...oldSource } = camera.source as { controls: object };
  expect(upgraded([oldShow, { ...camera, source: oldSource }])).toEqual([sampleShow, camera]);
  expect(upgraded([{ kind: 'plan', id: 'p' }])).toEqual([
    { kind: 'plan', id: 'p', encoder: 'any', keep: 'sharpness' },
  ]);
  const now = [sampleShow, camera, sampleInput('x')];
  expect(upgraded(now)).toEqual(now);
});

test('what is no record stays as it is, to be refused', () => {
  const none = [null, 3, 'x', { kind: 'input' }, { kind: 'input', source: null }];
  expect(upgraded(none)).toEqual(none);
});
