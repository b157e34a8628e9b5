import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import yazl from 'yazl';
import type { ArchivedFile } from '../../core/show/archive';
import type { AssetStore } from '../vault/asset-store';

/** Of a file, read at once. */
const PIECE_BYTES = 1024 * 1024;

/**
 * A ZIP as it is written: a list of contents as JSON, then the files it names, one after the other, whatever their size.
 * @param picture a JPEG that shows what is in it; null for none
 */
export function zipped(
  name: string,
  contents: object,
  files: readonly ArchivedFile[],
  assets: AssetStore,
  picture: string | null,
): Readable {
  const zip = new yazl.ZipFile();
  const output = zip.outputStream as Readable;
  // A file that cannot be read ends the archive in the middle, which whoever receives it sees, and nothing else.
  zip.on('error', (error: Error) => output.destroy(error));
  zip.addBuffer(Buffer.from(JSON.stringify(contents, null, 1)), name);
  if (picture !== null) zip.addFile(picture, 'picture.jpg', { compress: false });
  // Pictures, videos and sounds are compressed already.
  for (const { id, bytes } of files)
    zip.addReadStreamLazy(`assets/${id}`, { compress: false, size: bytes }, (take) => {
      const body = createReadStream(assets.pathOf(id), { highWaterMark: PIECE_BYTES });
      body.on('error', (error) => zip.emit('error', error));
      take(null, body);
    });
  zip.end();
  return output;
}
