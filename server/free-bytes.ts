import { statfsSync } from 'node:fs';
import path from 'node:path';

/** Bytes that may still be written where a folder is, or will be; null when nobody can tell. */
export function freeBytesOf(folder: string): number | null {
  for (let at = path.resolve(folder); ; at = path.dirname(at)) {
    try {
      const { bavail, bsize } = statfsSync(at);
      return bavail * bsize;
    } catch {
      // Not made yet: the folder around it is on the same disk.
      if (path.dirname(at) === at) return null;
    }
  }
}
