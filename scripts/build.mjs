// Builds the pages (React Router), bundles the four Node processes and the rewrapping thread, whose packages stay outside,
// and the script of the pad.
import { build } from 'esbuild';
import { rmSync } from 'node:fs';
import path from 'node:path';
import { root, run } from './lib/prepare.mjs';

rmSync(path.join(root, 'build'), { recursive: true, force: true });
const quiet = process.env.DOLOMITE_VERBOSE ? 'inherit' : 'ignore';
await run(process.execPath, [path.join(root, 'node_modules/@react-router/dev/bin.js'), 'build'], {
  stdio: ['ignore', quiet, 'inherit'],
  env: { ...process.env, NODE_ENV: 'production' },
});
await build({
  absWorkingDir: root,
  entryPoints: {
    web: 'server/web/main.ts',
    relay: 'server/relay/main.ts',
    door: 'server/door/main.ts',
    standins: 'standins/platforms/main.ts',
    rewrap: 'server/vault/rewrap.worker.ts',
  },
  outdir: 'build/server',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  sourcemap: true,
  logLevel: 'warning',
});
// The pages of pad and guest get one script each from the door, and nothing else of the studio.
await build({
  absWorkingDir: root,
  entryPoints: { pad: 'server/door/pad/pad.ts', guest: 'server/door/guest/guest.ts' },
  outdir: 'build/server',
  bundle: true,
  minify: true,
  platform: 'browser',
  target: 'es2022',
  format: 'iife',
  logLevel: 'warning',
});
