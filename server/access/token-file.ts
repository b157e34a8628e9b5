import { readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { Fault, messageOf } from '../../core/fault';

const LEAST_LETTERS = 20;

/**
 * A token that processes of this studio share, as it was written at the start: `relay` shows that orders come from the web
 * server, `sign-in` makes a browser the owner's, `door` shows a door that the studio calls. They lie in files that only their owner can read.
 * @throws Fault `access.tokenFile` when it is missing, too short, or can be read by others
 */
export function readToken(dataFolder: string, name: 'relay' | 'sign-in' | 'door'): string {
  const file = path.join(dataFolder, `${name}.token`);
  try {
    const token = readFileSync(file, 'utf8').trim();
    if (token.length < LEAST_LETTERS) throw new Error(`it must hold at least ${LEAST_LETTERS} characters`);
    if (process.platform !== 'win32' && (statSync(file).mode & 0o077) !== 0)
      throw new Error('others on this computer can read it: set its mode to 0600');
    return token;
  } catch (error) {
    throw new Fault('access.tokenFile', `the token file ${file} cannot be used: ${messageOf(error)}`);
  }
}
