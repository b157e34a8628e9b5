import { spawn } from 'node:child_process';
import { pullArguments } from '../../scripts/lib/analyse.mjs';
import { waited } from './waits';

/** Takes `seconds` of what viewers are sent, as it is, into a file; ends with what came when the stream ends before. */
export const pull = (url: string, file: string, seconds: number): Promise<void> =>
  waited(
    'network',
    () =>
      new Promise((resolve, reject) =>
        spawn('ffmpeg', pullArguments(url, file, seconds), { stdio: 'ignore' })
          .on('error', reject)
          .on('exit', () => resolve()),
      ),
  );
