import { expect, test } from 'vitest';
import {
  controlConstraints,
  controlsOffered,
  fitted,
  fpsOffered,
  hasAutomatic,
  proposedMode,
  sizesOffered,
} from './camera-controls';

const CAMERA = {
  width: { min: 1, max: 1920 },
  height: { min: 1, max: 1080 },
  frameRate: { min: 1, max: 30.00003 },
  focusMode: ['manual', 'continuous'],
  focusDistance: { min: 10, max: 100, step: 5 },
  exposureMode: ['continuous'],
  exposureTime: { min: 3, max: 2047, step: 1 },
  brightness: { min: -64, max: 64 },
  zoom: { min: 100, max: 100, step: 1 },
  facingMode: [],
};

test('what can be set is what has a range; one that cannot move is none', () => {
  expect([...controlsOffered(CAMERA)]).toEqual([
    ['focusDistance', { min: 10, max: 100, step: 5 }],
    ['exposureTime', { min: 3, max: 2047, step: 1 }],
    ['brightness', { min: -64, max: 64, step: 0 }],
  ]);
  expect(controlsOffered({}).size).toBe(0);
  expect(controlsOffered({ zoom: 'much', pan: { min: 'a', max: 3 } }).size).toBe(0);
});

test.each([
  [47, { min: 10, max: 100, step: 5 }, 45],
  [48, { min: 10, max: 100, step: 5 }, 50],
  [-3, { min: 10, max: 100, step: 5 }, 10],
  [1e9, { min: 10, max: 98, step: 5 }, 98],
  [0.25, { min: 0, max: 1, step: 0 }, 0.25],
])('%d within %j is %d', (value, range, kept) => {
  expect(fitted(value, range)).toBe(kept);
});

test('by hand: its mode first, then the value the camera can have; what it has no manual mode for is set alone', () => {
  expect(
    controlConstraints({ focusDistance: 47, exposureTime: 10, zoom: 3, brightness: 99 }, {}, CAMERA),
  ).toEqual([{ focusMode: 'manual' }, { focusDistance: 45 }, { exposureTime: 10 }, { brightness: 64 }]);
});

test('what is not set by hand any more is given back to the camera; what never was is left alone', () => {
  expect(controlConstraints({}, { focusDistance: 50, brightness: 3 }, CAMERA)).toEqual([
    { focusMode: 'continuous' },
  ]);
  expect(controlConstraints({}, {}, CAMERA)).toEqual([]);
  expect(hasAutomatic('focusDistance', CAMERA)).toBe(true);
  expect(hasAutomatic('brightness', CAMERA)).toBe(false);
});

test('sizes and rates are those of the camera', () => {
  expect(sizesOffered(CAMERA).at(-1)).toEqual({ width: 1920, height: 1080 });
  expect(sizesOffered({ width: { max: 800 }, height: { max: 600 } })).toEqual([
    { width: 320, height: 180 },
    { width: 640, height: 360 },
    { width: 640, height: 480 },
    { width: 800, height: 600 },
  ]);
  expect(sizesOffered({}).at(-1)).toEqual({ width: 3840, height: 2160 });
  expect(fpsOffered(CAMERA)).toBe(30);
  expect(fpsOffered({})).toBeNull();
});

test.each([
  [{ width: 1280, height: 720 }, 30, { width: 1280, height: 720, fps: 30 }],
  [{ width: 1600, height: 900 }, 60, { width: 1920, height: 1080, fps: 30 }],
  [{ width: 3840, height: 2160 }, 25, { width: 1920, height: 1080, fps: 25 }],
])('for a frame of %j at %d it proposes %j', (frame, fps, mode) => {
  expect(proposedMode(CAMERA, frame, fps)).toEqual(mode);
});
