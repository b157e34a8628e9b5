// Speed and cost, as JSON lines, each beside its reference measured in the same run.
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { ensurePrograms } from './lib/debian.mjs';
import { checkNode, ensureBuild, ensurePackages, fail, root, run } from './lib/prepare.mjs';

checkNode();
await ensurePackages().catch((error) => fail(error.message));
const missing = await ensurePrograms(['chromium', 'ffmpeg', 'nginx with its RTMP module']);
if (missing.length > 0) fail(`The bench needs ${missing.join(', ')}: install them first.`);
await ensureBuild().catch((error) => fail(error.message));
const { build } = await import('esbuild');
mkdirSync(path.join(root, 'build/bench'), { recursive: true });
await build({
  absWorkingDir: root,
  entryPoints: ['scripts/bench/main.ts'],
  outfile: 'build/bench/main.mjs',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  logLevel: 'warning',
  // The scripts find the project by their own place; bundled, that place is two folders down.
  define: { 'import.meta.dirname': JSON.stringify(path.join(root, 'tests/lib')) },
});
await run(process.execPath, ['build/bench/main.mjs', ...process.argv.slice(2)]).catch((error) =>
  fail(error.message),
);
