/** Pictures as a decoder, a camera or a chip gives them, in planes, and what the reference makes of their points. */
import { graded } from '../../core/picture/grade';
import { planeMatrix, pointOf } from '../../core/picture/planes';
import type { GradeValues } from '../../core/show/colour-records';

export interface DecodedAs {
  format: 'I420' | 'NV12';
  matrix: 'bt709' | 'smpte170m';
  fullRange: boolean;
}

/** The picture in 4:2:0, and its points (red, green, blue, 0…1) as these planes say them. */
export function decodedPicture(
  rgba: readonly number[],
  width: number,
  height: number,
  { format, matrix, fullRange }: DecodedAs,
): { frame: VideoFrame; points: [number, number, number][] } {
  const count = width * height;
  const planes = new Uint8Array(count * 1.5);
  // ITU-T H.273, 8.3.
  const [red, blue] = matrix === 'bt709' ? [0.2126, 0.0722] : [0.299, 0.114];
  const [off, span, chroma] = fullRange ? [0, 255, 255] : [16, 219, 224];
  const whole = (value: number) => Math.max(0, Math.min(255, Math.round(value)));
  const places = (x: number, y: number) => {
    const half = (y >> 1) * (width / 2) + (x >> 1);
    return format === 'I420' ? [count + half, count * 1.25 + half] : [count + half * 2, count + half * 2 + 1];
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 4;
      const [r, g, b] = rgba.slice(at, at + 3).map((v) => v / 255);
      const luma = red * r + (1 - red - blue) * g + blue * b;
      planes[y * width + x] = whole(off + luma * span);
      const [u, v] = places(x, y);
      planes[u] = whole(128 + ((b - luma) / (2 - 2 * blue)) * chroma);
      planes[v] = whole(128 + ((r - luma) / (2 - 2 * red)) * chroma);
    }
  const colorSpace = { matrix, fullRange, primaries: 'bt709', transfer: 'bt709' } as const;
  const numbers = planeMatrix(colorSpace)!;
  const points = Array.from({ length: count }, (_, i) => {
    const [u, v] = places(i % width, Math.floor(i / width));
    return pointOf(planes[i], planes[u], planes[v], numbers).map((part) => part / 255) as [
      number,
      number,
      number,
    ];
  });
  return {
    frame: new VideoFrame(planes, {
      format,
      codedWidth: width,
      codedHeight: height,
      timestamp: 0,
      colorSpace,
    }),
    points,
  };
}

/** RGBA of points as the reference grades them. */
export function gradedPoints(
  points: readonly [number, number, number][],
  values: GradeValues,
): Uint8ClampedArray {
  return Uint8ClampedArray.from(
    points.flatMap((point) => [...graded(point, values).map((part) => Math.round(part * 255)), 255]),
  );
}
