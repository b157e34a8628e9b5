/**
 * A WAV file of 32-bit floats (RIFF, format tag 3 of the Multiple Channel Audio Data specification).
 * @param planes one array per channel, all as long
 * @param rate samples a second
 */
export function waveFile(planes: readonly Float32Array[], rate: number): Uint8Array<ArrayBuffer> {
  const channels = planes.length;
  const frames = planes[0]?.length ?? 0;
  const bytes = new Uint8Array(44 + frames * channels * 4);
  const view = new DataView(bytes.buffer);
  const text = (at: number, word: string) => [...word].forEach((c, i) => (bytes[at + i] = c.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 3, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * channels * 4, true);
  view.setUint16(32, channels * 4, true);
  view.setUint16(34, 32, true);
  text(36, 'data');
  view.setUint32(40, frames * channels * 4, true);
  for (let i = 0; i < frames; i++)
    for (let c = 0; c < channels; c++) view.setFloat32(44 + (i * channels + c) * 4, planes[c][i], true);
  return bytes;
}
