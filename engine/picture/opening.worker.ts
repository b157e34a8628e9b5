/** Reads the alpha of a picture and finds its openings, away from the page and from the stage. */
import { messageOf } from '../../core/fault';
import { findOpenings } from '../../core/picture/opening';
import type { FromOpenings, ToOpenings } from '../../protocol/engine';
import { workerScope } from '../worker-scope';

/** Finer than this nobody sees, and the search takes as long as the picture is large. */
const MAX_SIDE_PX = 2048;

async function search({ url }: ToOpenings): Promise<FromOpenings> {
  try {
    const response = await fetch(url);
    if (!response.ok) throw new Error('the file of this graphic is missing');
    const blob = await response.blob();
    const bitmap = await createImageBitmap(blob);
    const scale = Math.min(1, MAX_SIDE_PX / Math.max(bitmap.width, bitmap.height));
    const width = Math.max(1, Math.round(bitmap.width * scale));
    const height = Math.max(1, Math.round(bitmap.height * scale));
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    context.drawImage(bitmap, 0, 0, width, height);
    bitmap.close();
    const { data } = context.getImageData(0, 0, width, height);
    const alpha = new Uint8Array(width * height);
    for (let i = 0; i < alpha.length; i++) alpha[i] = data[i * 4 + 3];
    return { openings: findOpenings({ width, height, alpha }), width, height };
  } catch (error) {
    return { problem: messageOf(error) };
  }
}

workerScope.onmessage = ({ data }: MessageEvent<ToOpenings>) => {
  void search(data).then((answer) => workerScope.postMessage(answer));
};
