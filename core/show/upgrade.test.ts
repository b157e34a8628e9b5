import { expect, test } from 'vitest';
import { sampleDestination, sampleInput, sampleShow } from './sample-show';
import { upgraded } from './upgrade';

test('records of earlier versions get what they did not have yet; those of this one stay as they are', () => {
  const { kits: _, ...oldShow } = sampleShow;
  const camera = sampleInput('cam', {
    source: {
      type: 'camera',
      deviceId: '',
      deviceLabel: '',
      width: 640,
      height: 360,
      fps: 30,
      controls: {},
      deinterlace: false,
    },
  });
  const {
    controls: _c,
    deinterlace: _d,
    ...oldSource
  } = camera.source as {
    controls: object;
    deinterlace: boolean;
  };
  expect(upgraded([oldShow, { ...camera, source: oldSource }])).toEqual([sampleShow, camera]);
  expect(upgraded([{ kind: 'plan', id: 'p' }])).toEqual([
    { kind: 'plan', id: 'p', encoder: 'any', keep: 'sharpness' },
  ]);
  const { connector: _n, details, ...destination } = sampleDestination('d', { connector: 'larch' });
  const { visibility: _v, ...oldDetails } = details;
  expect(upgraded([{ ...destination, standIn: 'larch', details: oldDetails }])).toEqual([
    sampleDestination('d', { connector: 'larch' }),
  ]);
  const now = [sampleShow, camera, sampleInput('x')];
  expect(upgraded(now)).toEqual(now);
});

test('what is no record stays as it is, to be refused', () => {
  const none = [null, 3, 'x', { kind: 'input' }, { kind: 'input', source: null }];
  expect(upgraded(none)).toEqual(none);
});
