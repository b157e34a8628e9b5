import { describe, expect, test } from 'vitest';
import { lottieFrame, readLottie } from './lottie';
import { pictureSize } from './picture-size';
import { checkSvg } from './svg';

const bytes = (...parts: (string | number[])[]) =>
  new Uint8Array(parts.flatMap((p) => (typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : p)));

describe('picture sizes from the first bytes', () => {
  const png = bytes([0x89], 'PNG\r\n', [0x1a, 0x0a, 0, 0, 0, 13], 'IHDR', [0, 0, 0x4e, 0x20, 0, 0, 0, 9]);
  const gif = bytes('GIF89a', [0x40, 0x01, 0xf0, 0x00]);
  const jpeg = bytes([
    0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 2, 0xff, 0xc4, 0, 3, 9, 0xff, 0xc2, 0, 17, 8, 2, 0x58, 3, 0x20, 3,
  ]);
  const webp = (kind: string, ...rest: number[]) =>
    bytes('RIFF', [0, 0, 0, 0], 'WEBP', kind, [0, 0, 0, 0], rest, new Array<number>(20).fill(0));
  test.each([
    ['PNG', png, { width: 20_000, height: 9 }],
    ['GIF', gif, { width: 320, height: 240 }],
    ['JPEG, past its tables', jpeg, { width: 800, height: 600 }],
    ['WebP, extended', webp('VP8X', 0, 0, 0, 0, 0x7f, 0x07, 0, 0x37, 0x04, 0), { width: 1920, height: 1080 }],
    ['WebP, lossless', webp('VP8L', 0x2f, 0xff, 0xc0, 0x3f, 0), { width: 256, height: 256 }],
    [
      'WebP, lossy',
      webp('VP8 ', 0, 0, 0, 0x9d, 0x01, 0x2a, 0x40, 0x01, 0xf0, 0),
      { width: 320, height: 240 },
    ],
  ])('%s', (_kind, file, size) => expect(pictureSize(file)).toEqual(size));
  test.each([
    ['nothing', bytes()],
    ['text', bytes('hello there, this is no picture at all')],
    ['a WebP of another kind', webp('XXXX')],
    ['a JPEG with garbage', bytes([0xff, 0xd8, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])],
  ])('%s has none', (_what, file) => expect(pictureSize(file)).toBeNull());
  test('cut off anywhere it is null, never wrong and never endless', () => {
    for (const file of [png, gif, jpeg])
      for (let length = 0; length < file.length; length++) {
        const size = pictureSize(file.subarray(0, length));
        if (size) expect(size.width).toBeGreaterThan(0);
      }
  });
});

describe('Lottie', () => {
  const good = { v: '5.7', w: 400, h: 300, fr: 30, ip: 0, op: 90, layers: [] };
  test('tells size and length', () => {
    expect(readLottie(JSON.stringify(good))).toEqual({
      width: 400,
      height: 300,
      fps: 30,
      from: 0,
      to: 90,
      seconds: 3,
    });
  });
  test.each([
    ['cut off', JSON.stringify(good).slice(0, 30), /cut off/],
    ['a list', '[1]', /no animation/],
    ['without layers', JSON.stringify({ ...good, layers: undefined }), /no layers/],
    ['without a rate', JSON.stringify({ ...good, fr: null }), /no "fr"/],
    ['of no length', JSON.stringify({ ...good, op: 0 }), /no length/],
    ['of no size', JSON.stringify({ ...good, w: 0 }), /no size/],
    ['enormous', JSON.stringify({ ...good, w: 90_000 }), /too large/],
    ['endless', JSON.stringify({ ...good, op: 1e7 }), /too large/],
    ['with too many layers', JSON.stringify({ ...good, layers: new Array(3000).fill({}) }), /too large/],
  ])('%s is refused with what to do', (_what, text, reason) => {
    expect(() => readLottie(text)).toThrow(reason);
  });
  test('loops, or stands on its last frame', () => {
    const facts = readLottie(JSON.stringify(good));
    expect(lottieFrame(facts, 1, true, 1)).toBe(30);
    expect(lottieFrame(facts, 4, true, 1)).toBe(30);
    expect(lottieFrame(facts, 4, false, 1)).toBe(89);
    expect(lottieFrame(facts, 1, true, 2)).toBe(60);
    expect(lottieFrame(facts, -1, false, 1)).toBe(0);
  });
});

describe('SVG', () => {
  const svg = (inside: string, attributes = 'width="40" height="20"') =>
    `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inside}</svg>`;
  test('a plain picture tells its size', () => {
    expect(checkSvg(svg('<rect width="4" height="4" fill="url(#g)"/>'), 'a.svg')).toEqual({
      width: 40,
      height: 20,
    });
    expect(checkSvg(svg('', 'viewBox="0 0 64 32" width="100%"'), 'a.svg')).toEqual({ width: 64, height: 32 });
    expect(checkSvg(svg('<image href="data:image/png;base64,AAAA"/>'), 'a.svg').width).toBe(40);
  });
  test.each([
    ['scripts', '<script>alert(1)</script>'],
    ['scripts', '<svg:script href="#x"/>'],
    ['event handlers', '<rect onload="x()"/>'],
    ['script addresses', '<a href="javascript:x()"/>'],
    ['web page parts', '<foreignObject/>'],
    ['fetched from elsewhere', '<image href="http://x/y.png"/>'],
    ['fetched from elsewhere', '<style>@import "x.css";</style>'],
    ['fetched from elsewhere', '<rect fill="url(http://x)"/>'],
  ])('with %s it is not brought in', (what, inside) => {
    expect(() => checkSvg(svg(inside), 'logo.svg')).toThrow(what);
    expect(() => checkSvg(svg(inside), 'logo.svg')).toThrow(/"logo.svg"/);
  });
  test.each([
    ['cut off', svg('').slice(0, -8), /cut off/],
    ['no SVG', '<html></html>', /no SVG/],
    ['no size', svg('', ''), /how large/],
    ['too large', svg(' '.repeat(9_000_000)), /larger than 8 MB/],
    ['an entity bomb', `<!DOCTYPE svg [<!ENTITY a "b">]>${svg('')}`, /entities/],
  ])('%s is refused', (_what, text, reason) => expect(() => checkSvg(text, 'x.svg')).toThrow(reason));
});
