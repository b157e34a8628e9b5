// Opens the user's browser and signs it in, without the token standing in any list of processes: a page in a file that only
// its owner can read sends it.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { writeWhole } from './data-folder.mjs';

const OPENERS = { darwin: ['open'], win32: ['cmd', '/c', 'start', ''], linux: ['xdg-open'] };

/**
 * @param {string} data folder of the studio's data
 * @param {string} signInUrl the address that signs a browser in
 * @param {string[] | undefined} opener program and arguments, to which the file's name is added
 * @returns {Promise<boolean>} whether a program was found to open it with
 */
export function openBrowser(data, signInUrl, opener = OPENERS[process.platform]) {
  const [address, token] = signInUrl.split('#');
  const file = path.join(data, 'open.html');
  writeWhole(
    file,
    `<!doctype html><meta charset="utf-8"><title>Dolomite</title><form method="post" action="${address}"><input type="hidden" name="token" value="${token}"><button>Open the studio</button></form><script>document.forms[0].submit()</script>`,
  );
  if (!opener) return Promise.resolve(false);
  const [program, ...args] = opener;
  return new Promise((resolve) => {
    const child = spawn(program, [...args, file], { stdio: 'ignore', detached: true });
    child.once('error', () => resolve(false));
    child.once('spawn', () => {
      child.unref();
      resolve(true);
    });
  });
}
