/** H.264 profiles, best first, as the first two bytes of a codec string (RFC 6381 §3.3: profile_idc, constraints). */
const PROFILES = ['6400', '4d00', '42e0', '4200'] as const;

/** Levels with macroblocks per second and per picture (ITU-T H.264 table A-1). */
const LEVELS: readonly (readonly [idc: number, perSecond: number, perPicture: number])[] = [
  [30, 40_500, 1620],
  [31, 108_000, 3600],
  [32, 216_000, 5120],
  [40, 245_760, 8192],
  [42, 522_240, 8704],
  [50, 589_824, 22_080],
  [51, 983_040, 36_864],
  [52, 2_073_600, 36_864],
];

/**
 * Codec strings to try for a size and rate, best profile first, each with the lowest level that allows it.
 * @returns empty when no level does
 */
export function avcCandidates(width: number, height: number, fps: number): string[] {
  const blocks = Math.ceil(width / 16) * Math.ceil(height / 16);
  const level = LEVELS.find(([, perSecond, perPicture]) => blocks <= perPicture && blocks * fps <= perSecond);
  if (!level) return [];
  return PROFILES.map((profile) => `avc1.${profile}${level[0].toString(16)}`);
}
