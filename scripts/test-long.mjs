// Tests against slow peers that change seldom: by hand, before a release or when such a peer changed. The result is kept.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { ensurePrograms } from './lib/debian.mjs';
import { LONG_RESULT } from './lib/long-tests.mjs';
import { checkNode, ensureBuild, ensurePackages, fail, root } from './lib/prepare.mjs';

checkNode();
await ensurePackages().catch((error) => fail(error.message));
const missing = await ensurePrograms(['chromium', 'ffmpeg', 'nginx with its RTMP module', 'iproute2']);
if (missing.length > 0) fail(`The long tests need ${missing.join(', ')}.`);
await ensureBuild().catch((error) => fail(error.message));
const scratch = mkdtempSync(path.join(os.tmpdir(), 'dolomite-long-'));
const report = path.join(scratch, 'report.json');
spawnSync(
  'npx',
  [
    'vitest',
    'run',
    '--config',
    'tests/long/vitest.config.ts',
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  ],
  { cwd: root, stdio: 'inherit' },
);
if (!existsSync(report)) fail('no report was written');
const { numPassedTests: passed, numFailedTests: failed } = JSON.parse(readFileSync(report, 'utf8'));
rmSync(scratch, { recursive: true, force: true });
writeFileSync(
  path.join(root, LONG_RESULT),
  `${JSON.stringify({ date: new Date().toISOString(), passed, failed }, null, 2)}\n`,
);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
