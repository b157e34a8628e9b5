/** Looks at an SVG before it is painted: it must be a picture and nothing more. */
import { Fault } from '../fault';
import type { Size } from '../geometry/rect';

const MAX_SVG_BYTES = 8 * 1024 * 1024;

/** What makes a picture into a program or fetches things from elsewhere. */
const FORBIDDEN: readonly (readonly [RegExp, string])[] = [
  [/<\s*(?:[\w-]+:)?script\b/i, 'scripts'],
  [/\son\w+\s*=/i, 'event handlers'],
  [/javascript\s*:/i, 'script addresses'],
  [/<\s*(?:[\w-]+:)?foreignObject\b/i, 'web page parts'],
  [/<!ENTITY/i, 'entities'],
  [/(?:href|src)\s*=\s*["']\s*(?!#|data:image\/)[^"'\s]/i, 'parts fetched from elsewhere'],
  [/url\(\s*["']?\s*(?!#|data:)[^)"'\s]/i, 'parts fetched from elsewhere'],
  [/@import/i, 'parts fetched from elsewhere'],
];

/**
 * @returns the picture's size in its own units
 * @throws Fault `svg.*` with what to do about it
 */
export function checkSvg(text: string, name: string): Size {
  if (text.length > MAX_SVG_BYTES)
    throw new Fault('svg.large', `"${name}" is larger than 8 MB: export a simpler one, or a PNG`);
  const tag = /<\s*(?:[\w-]+:)?svg\b[^>]*>/i.exec(text)?.[0];
  if (!tag || !/<\s*\/\s*(?:[\w-]+:)?svg\s*>/i.test(text.slice(-200)))
    throw new Fault('svg.damaged', `"${name}" is cut off or no SVG: export it again`);
  for (const [pattern, what] of FORBIDDEN)
    if (pattern.test(text))
      throw new Fault(
        'svg.unsafe',
        `"${name}" holds ${what} and was not brought in: export it as a plain SVG, or as PNG`,
      );
  const attribute = (key: string) => new RegExp(`\\s${key}\\s*=\\s*["']([^"']*)["']`, 'i').exec(tag)?.[1];
  const length = (value: string | undefined) =>
    value !== undefined && /^\s*[\d.]+\s*(px)?\s*$/.test(value) ? Number.parseFloat(value) : NaN;
  const box = attribute('viewBox')
    ?.trim()
    .split(/[\s,]+/)
    .map(Number);
  const width = length(attribute('width')) || (box?.[2] ?? NaN);
  const height = length(attribute('height')) || (box?.[3] ?? NaN);
  if (!(width > 0 && height > 0 && width < 1e6 && height < 1e6))
    throw new Fault('svg.size', `"${name}" does not say how large it is: export it with a width and height`);
  return { width, height };
}
