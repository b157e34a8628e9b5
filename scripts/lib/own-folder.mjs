// Where a person's own data goes, as each system has it: XDG Base Directory on Linux, Application Support on macOS, the local
// application data on Windows. macOS and Windows are written after their documentation and were not run.
import os from 'node:os';
import path from 'node:path';
import { packaged, root } from './prepare.mjs';

/**
 * @param {{ platform?: string, env?: Record<string, string | undefined>, home?: string }} where of the computer; this one's by default
 * @returns {string} the folder of one's own studio
 */
export function ownFolder({ platform = process.platform, env = process.env, home = os.homedir() } = {}) {
  if (platform === 'win32') {
    const local = env.LOCALAPPDATA || path.win32.join(home, 'AppData', 'Local');
    return path.win32.join(local, 'Dolomite');
  }
  if (platform === 'darwin') return path.posix.join(home, 'Library', 'Application Support', 'Dolomite');
  // A path that is not absolute is to be ignored (XDG Base Directory Specification 0.8).
  const data = env.XDG_DATA_HOME?.startsWith('/')
    ? env.XDG_DATA_HOME
    : path.posix.join(home, '.local', 'share');
  return path.posix.join(data, 'dolomite');
}

/** Where the demonstration's data goes: beside the program, or, where that is a package, beside one's own. */
export const demonstrationFolder = () => (packaged ? `${ownFolder()}-demo` : path.join(root, 'data'));
