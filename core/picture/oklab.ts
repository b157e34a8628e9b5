/**
 * Colours by how light they look, and where they lie between green and red and between blue and yellow: OKLab, with the
 * numbers of CSS Color 4, 10.9 (sample code for OKLab). Distances in it are about as large as they look.
 */
export interface Oklab {
  /** 0 black … 1 white. */
  l: number;
  a: number;
  b: number;
}

const linear = (share: number) => (share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4);
const encoded = (light: number) =>
  light <= 0.0031308 ? light * 12.92 : 1.055 * Math.max(0, light) ** (1 / 2.4) - 0.055;

/** @param colour `#RRGGBB`; what follows is not looked at */
export function oklabOf(colour: string): Oklab {
  const [r, g, b] = [1, 3, 5].map((at) => linear(parseInt(colour.slice(at, at + 2), 16) / 255));
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return {
    l: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    a: 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    b: 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  };
}

/** @returns `#RRGGBB`, upper case; of what no screen can show, the nearest of the same lightness and hue that it can */
export function colourOf({ l, a, b }: Oklab): string {
  for (let chroma = 1; ; chroma = Math.max(0, chroma - 0.02)) {
    const rgb = linearOf({ l, a: a * chroma, b: b * chroma });
    if (chroma > 0 && rgb.some((v) => v < -1e-4 || v > 1 + 1e-4)) continue;
    const text = rgb.map((v) =>
      Math.round(Math.min(1, Math.max(0, encoded(v))) * 255)
        .toString(16)
        .padStart(2, '0'),
    );
    return `#${text.join('')}`.toUpperCase();
  }
}

function linearOf({ l, a, b }: Oklab): number[] {
  const [x, y, z] = [
    (l + 0.3963377774 * a + 0.2158037573 * b) ** 3,
    (l - 0.1055613458 * a - 0.0638541728 * b) ** 3,
    (l - 0.0894841775 * a - 1.291485548 * b) ** 3,
  ];
  return [
    4.0767416621 * x - 3.3077115913 * y + 0.2309699292 * z,
    -1.2684380046 * x + 2.6097574011 * y - 0.3413193965 * z,
    -0.0041960863 * x - 0.7034186147 * y + 1.707614701 * z,
  ];
}

export const chromaOf = ({ a, b }: Oklab): number => Math.hypot(a, b);

export const distanceOf = (one: Oklab, other: Oklab): number =>
  Math.hypot(one.l - other.l, one.a - other.a, one.b - other.b);
