import jsQR from 'jsqr';
import { describe, expect, test } from 'vitest';
import { AudienceBook, emptyBook } from '../../book';
import { sampleRoom } from '../../sample-audience';
import { START_AUDIENCE } from '../../settings';
import type { AudienceNow } from '../audience-now';
import type { Mark } from '../drawing';
import { qrCode, type QrCodeWidget } from './qr-code';

const now: AudienceNow = {
  ...{ nowMs: 0, zoneOffsetMinutes: 0, sceneSinceMs: 0, sceneFirstMs: 0, musicEndsMs: null },
  ...{ broadcastSinceMs: null, book: new AudienceBook(emptyBook(0)), goals: [], settings: START_AUDIENCE },
  fields: { link: 'https://signal-box.example/give?for=roof' },
  ...{ viewers: new Map(), messages: [], messagesVersion: 0, eventStamp: '', readOut: null, ownPoll: null },
  ...{ title: null, speaking: [] },
};
const widget = (text: string, below = ''): QrCodeWidget => ({ of: 'qrCode', text, below });

/** What a phone reads of the boxes, by a decoder that is not ours. */
function read(marks: readonly Mark[], width: number, height: number): string | undefined {
  const pixels = new Uint8ClampedArray(width * height * 4).fill(90);
  for (const mark of marks)
    if (mark.kind === 'box') {
      const light = parseInt(mark.colour.slice(1, 3), 16);
      for (let y = Math.round(mark.y); y < Math.round(mark.y + mark.height); y++)
        for (let x = Math.round(mark.x); x < Math.round(mark.x + mark.width); x++)
          pixels.fill(light, (y * width + x) * 4, (y * width + x) * 4 + 3);
    }
  return jsQR(pixels, width, height)?.data;
}

describe('QR code', () => {
  test.each([
    ['as it is written', widget('https://signal-box.example'), 'https://signal-box.example'],
    ['with a field of the show', widget('{{link}}', 'Give for the roof'), now.fields.link],
    ['letters of any script', widget('Grüße 信号 🚂'), 'Grüße 信号 🚂'],
    ['the longest that can be typed', widget('x'.repeat(600)), 'x'.repeat(600)],
  ])('%s', (_, of, text) => {
    expect(read(qrCode.layout(of, now, sampleRoom(320, 360, 30)), 320, 360)).toBe(text);
  });

  test('words stand below the code and take no room from its edge', () => {
    const marks = qrCode.layout(widget('{{link}}', 'Give here'), now, sampleRoom(320, 360, 30));
    const sheet = marks[0];
    const words = marks.at(-1)!;
    if (sheet.kind !== 'box' || words.kind !== 'text') throw new Error('no code with words');
    expect(words.text).toBe('Give here');
    expect(words.y - words.sizePx).toBeGreaterThanOrEqual(sheet.y + sheet.height - 1);
    expect(Number.isInteger(sheet.width)).toBe(true);
  });

  test('nothing to say, and more than a code can hold, are said', () => {
    const said = (text: string, fields = now.fields) =>
      qrCode
        .layout(widget(text), { ...now, fields }, sampleRoom(600, 360, 30))
        .map((m) => (m.kind === 'text' ? m.text : m.kind));
    expect(said(' ')).toEqual(['No address yet']);
    expect(said('{{long}}', { long: 'ü'.repeat(1600) })).toEqual(['Too long for a code']);
  });

  test('another text is another picture', () => {
    expect(qrCode.stamp(widget('{{link}}'), now)).not.toBe(
      qrCode.stamp(widget('{{link}}'), { ...now, fields: { link: 'https://elsewhere.example' } }),
    );
  });
});
