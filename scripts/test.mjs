// All checks: types, lint, import rules, unit, peer and end-to-end tests. Ends with a plain line "N passed, N failed".
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { ensurePrograms } from './lib/debian.mjs';
import { checkNode, ensureBuild, ensurePackages, fail, root } from './lib/prepare.mjs';

checkNode();
await ensurePackages().catch((error) => fail(error.message));
const missing = ensurePrograms([
  'chromium',
  'ffmpeg',
  'nginx with its RTMP module',
  'ngircd',
  "GStreamer's RTSP server",
  'espeak-ng',
  'iproute2',
]);
if (missing.length > 0)
  fail(`The tests need ${missing.join(', ')}: install them, or run the tests as root on Debian.`);

let passed = 0;
let failed = 0;
const scratch = mkdtempSync(path.join(os.tmpdir(), 'dolomite-test-'));

function step(command, args, { show = true } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, FORCE_COLOR: '0', NO_COLOR: '1' },
    });
    let text = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (part) => {
        text += part;
        if (show) process.stdout.write(part);
      });
    child.on('exit', (code) => resolve({ code, text }));
  });
}

/** A check counts as one test. */
async function check(name, command, args) {
  const { code, text } = await step(command, args, { show: false });
  console.log(`${code === 0 ? 'ok  ' : 'FAIL'} ${name}`);
  if (code === 0) passed += 1;
  else {
    failed += 1;
    console.log(text);
  }
}

async function vitest(name, config, extra = []) {
  console.log(`\n${name}`);
  const report = path.join(scratch, `${name.replace(/\W+/g, '-')}.json`);
  const { code } = await step('npx', [
    'vitest',
    'run',
    '--config',
    config,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
    ...extra,
  ]);
  try {
    const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
    passed += numPassedTests;
    failed += Math.max(numFailedTests, code === 0 ? 0 : 1);
    if (numPassedTests === 0 && numFailedTests === 0 && numFailedTestSuites === 0) failed += 1;
  } catch {
    console.log(`${name}: no report was written`);
    failed += 1;
  }
}

/** End-to-end tests of what is seen, not of what goes out in time: they may run beside others. */
const INTERFACE = [
  'colour',
  'commands',
  'effects',
  'finish-pixels',
  'heavy-media',
  'kept-pixels',
  'looks',
  'moving-pixels',
  'pixels',
  'stage',
  'stage-inputs',
  'studio',
].map((name) => `tests/e2e/${name}.test.ts`);

/** What needs no build: one worker, since the peer tests, which mostly wait, run beside it. */
async function without() {
  await check('types', 'npm', ['run', '-s', 'types']);
  await check('lint and import rules', 'npx', ['eslint', '.']);
  await check('formatting', 'npx', ['prettier', '--check', '.']);
  await vitest('unit tests', 'vite.config.ts', ['--maxWorkers=1']);
}

try {
  await ensureBuild();
  passed += 1;
  console.log('ok   build');
  await Promise.all([
    without().then(() => vitest('interface tests', 'tests/vitest.config.ts', INTERFACE)),
    vitest('peer tests', 'tests/vitest.config.ts', ['tests/peers', 'tests/soak']),
  ]);
  await vitest('end-to-end tests', 'tests/vitest.config.ts', [
    'tests/e2e',
    ...INTERFACE.map((file) => `--exclude=${file}`),
  ]);
} catch (error) {
  failed += 1;
  console.log(`FAIL build: ${error.message}`);
  await without();
}
rmSync(scratch, { recursive: true, force: true });
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
