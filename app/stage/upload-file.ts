import { messageOf } from '~/core/fault';
import { readLottie } from '~/core/picture/lottie';
import { checkSvg } from '~/core/picture/svg';
import type { Size } from '~/core/geometry/rect';
import { sendFile } from '../studio/send-file';

export interface Asset {
  id: string;
  mime: string;
}

/** Longest side of the picture that an SVG is painted to. */
const SVG_SIDE_PX = 2048;

/**
 * Brings a file into the show: uploaded as it is; an SVG is painted to a picture here, and refused when it could do
 * anything but be a picture.
 * @returns what the server made of it, and the picture's size as far as it can be told now
 */
export async function bringIn(
  url: string,
  file: File,
  onProgress: (share: number) => void,
): Promise<{ asset: Asset; size: Size }> {
  if (/\.svg$/i.test(file.name) || file.type === 'image/svg+xml') {
    const painted = await paintSvg(file);
    const asset = await sendFile<Asset>(
      url,
      painted.blob,
      { 'x-file-name': file.name.replace(/\.svg$/i, '.png') },
      onProgress,
    );
    return { asset, size: painted.size };
  }
  const asset = await sendFile<Asset>(url, file, { 'x-file-name': file.name }, onProgress);
  return { asset, size: await sizeOf(file, asset.mime) };
}

async function sizeOf(file: File, mime: string): Promise<Size> {
  try {
    if (mime.startsWith('video/')) return await videoSize(file);
    if (mime === 'application/lottie+json') return readLottie(await file.text());
    const bitmap = await createImageBitmap(file);
    const { width, height } = bitmap;
    bitmap.close();
    return { width, height };
  } catch {
    // A file the browser cannot read still becomes an input, which says what is wrong with it.
    return { width: 16, height: 9 };
  }
}

function videoSize(file: File): Promise<Size> {
  return new Promise((resolve, reject) => {
    const video = document.createElement('video');
    const url = URL.createObjectURL(file);
    const done = () => {
      URL.revokeObjectURL(url);
      video.removeAttribute('src');
      video.load();
    };
    video.onloadedmetadata = () => {
      const { videoWidth: width, videoHeight: height } = video;
      done();
      if (width > 0) resolve({ width, height });
      else reject(new Error('no picture'));
    };
    video.onerror = () => {
      done();
      reject(new Error('not readable'));
    };
    video.preload = 'metadata';
    video.src = url;
  });
}

async function paintSvg(file: File): Promise<{ blob: Blob; size: Size }> {
  const text = await file.text();
  const size = checkSvg(text, file.name);
  const scale = SVG_SIDE_PX / Math.max(size.width, size.height);
  const image = new Image();
  const url = URL.createObjectURL(new Blob([text], { type: 'image/svg+xml' }));
  try {
    image.src = url;
    await image.decode();
    const canvas = new OffscreenCanvas(
      Math.max(1, Math.round(size.width * scale)),
      Math.max(1, Math.round(size.height * scale)),
    );
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    return {
      blob: await canvas.convertToBlob({ type: 'image/png' }),
      size: { width: canvas.width, height: canvas.height },
    };
  } catch (error) {
    throw new Error(`"${file.name}" cannot be painted (${messageOf(error)}): export it again, or as PNG.`, {
      cause: error,
    });
  } finally {
    URL.revokeObjectURL(url);
  }
}
