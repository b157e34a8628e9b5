import { createReadStream } from 'node:fs';
import { createRequire } from 'node:module';
import type { Readable } from 'node:stream';
import { crc32 } from 'node:zlib';
import yazl from 'yazl';
import type { ArchivedFile } from '../../core/show/archive';
import type { AssetStore } from '../vault/asset-store';

/** Of a file, read at once. */
const PIECE_BYTES = 1024 * 1024;

// The package adds its check sums up in JavaScript, which takes most of the time of a large archive: 200 MB a second where
// Node's own, the same sum, does 1500. It has no option for that, so its helper is handed Node's.
const here = createRequire(import.meta.url);
const ofYazl = createRequire(here.resolve('yazl'));
(ofYazl('buffer-crc32') as { unsigned: typeof crc32 }).unsigned = (bytes, before) => crc32(bytes, before);

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
