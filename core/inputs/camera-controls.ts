/** What a camera lets be set, and how it is asked for it (W3C Media Capture and Streams, Image Capture extensions). */

export const CAMERA_CONTROLS = [
  'zoom',
  'pan',
  'tilt',
  'focusDistance',
  'exposureTime',
  'exposureCompensation',
  'colorTemperature',
  'brightness',
  'contrast',
  'saturation',
  'sharpness',
] as const;
export type CameraControl = (typeof CAMERA_CONTROLS)[number];

/** Those that are set by hand, in the camera's own units; what does not stand here the camera does by itself. */
export type CameraControls = Partial<Record<CameraControl, number>>;

/** What a camera does by itself unless it is told `manual`. */
const MODES: Partial<Record<CameraControl, string>> = {
  focusDistance: 'focusMode',
  exposureTime: 'exposureMode',
  colorTemperature: 'whiteBalanceMode',
};

export interface ControlRange {
  min: number;
  max: number;
  /** 0 where the camera does not tell. */
  step: number;
}

/** As a browser tells it: ranges for what can be set, lists for modes; much else, which is not looked at. */
export type Capabilities = Readonly<Record<string, unknown>>;

/** The controls that this camera has, with their ranges. */
export function controlsOffered(capabilities: Capabilities): Map<CameraControl, ControlRange> {
  const offered = new Map<CameraControl, ControlRange>();
  for (const control of CAMERA_CONTROLS) {
    const range = capabilities[control] as Partial<ControlRange> | undefined;
    const { min, max } = range ?? {};
    if (typeof min !== 'number' || typeof max !== 'number' || !(max > min)) continue;
    offered.set(control, { min, max, step: typeof range?.step === 'number' ? range.step : 0 });
  }
  return offered;
}

/** A value as the camera can have it: within its range, on its steps. */
export function fitted(value: number, { min, max, step }: ControlRange): number {
  const kept = Math.min(max, Math.max(min, value));
  return step > 0 ? Math.min(max, min + Math.round((kept - min) / step) * step) : kept;
}

/**
 * What a track is asked for, one set for each control, since a camera leaves out a whole set it cannot keep.
 * @param before what it was asked for last: what was set by hand and is not any more is given back to the camera
 */
export function controlConstraints(
  wanted: CameraControls,
  before: CameraControls,
  capabilities: Capabilities,
): Record<string, number | string>[] {
  const sets: Record<string, number | string>[] = [];
  for (const [control, range] of controlsOffered(capabilities)) {
    const mode = MODES[control];
    const modes = mode === undefined ? [] : ((capabilities[mode] as unknown[] | undefined) ?? []);
    const value = wanted[control];
    if (value !== undefined) {
      if (mode !== undefined && modes.includes('manual')) sets.push({ [mode]: 'manual' });
      sets.push({ [control]: fitted(value, range) });
    } else if (before[control] !== undefined && mode !== undefined && modes.includes('continuous'))
      sets.push({ [mode]: 'continuous' });
  }
  return sets;
}

/** Whether the camera does this by itself when it is not told. */
export const hasAutomatic = (control: CameraControl, capabilities: Capabilities): boolean => {
  const mode = MODES[control];
  return mode !== undefined && ((capabilities[mode] as unknown[] | undefined) ?? []).includes('continuous');
};

const COMMON: readonly (readonly [width: number, height: number])[] = [
  [320, 180],
  [640, 360],
  [640, 480],
  [960, 540],
  [1280, 720],
  [1920, 1080],
  [2560, 1440],
  [3840, 2160],
];

export interface CameraMode {
  width: number;
  height: number;
  fps: number;
}

/** Sizes that this camera can give, the smallest first; the common ones when it does not tell. */
export function sizesOffered(capabilities: Capabilities): { width: number; height: number }[] {
  const most = (of: string) => (capabilities[of] as { max?: number } | undefined)?.max ?? Infinity;
  const [width, height] = [most('width'), most('height')];
  const fitting = COMMON.filter(([w, h]) => w <= width && h <= height).map(([w, h]) => ({
    width: w,
    height: h,
  }));
  if (
    Number.isFinite(width) &&
    Number.isFinite(height) &&
    !fitting.some((s) => s.width === width && s.height === height)
  )
    if (width <= 3840 && height <= 2160) fitting.push({ width, height });
  return fitting.sort((a, b) => a.width * a.height - b.width * b.height);
}

/** Pictures a second that it can give at most; null when it does not tell. */
export function fpsOffered(capabilities: Capabilities): number | null {
  const max = (capabilities.frameRate as { max?: number } | undefined)?.max;
  return typeof max === 'number' && max >= 1 ? Math.floor(max) : null;
}

/**
 * What suits a show: the smallest size that fills its frame, or the largest there is, at the show's rate or as near as the
 * camera comes. More costs time in every picture and is seen by nobody.
 */
export function proposedMode(
  capabilities: Capabilities,
  frame: { width: number; height: number },
  fps: number,
): CameraMode {
  const sizes = sizesOffered(capabilities);
  const filling = sizes.find(({ width, height }) => width >= frame.width && height >= frame.height);
  const { width, height } = filling ?? sizes.at(-1) ?? { width: 1280, height: 720 };
  return { width, height, fps: Math.min(fps, fpsOffered(capabilities) ?? fps) };
}
