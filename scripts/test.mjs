// All checks: types, lint, import rules, unit, peer and end-to-end tests. Ends with a plain line "N passed, N failed".
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { ensurePrograms } from './lib/debian.mjs';
import { longTestsLine } from './lib/long-tests.mjs';
import { checkNode, ensureBuild, ensureNative, ensurePackageFiles, fail, root } from './lib/prepare.mjs';
import { noteSecondTries } from './lib/second-tries.mjs';
import { slowness, testLanes, TIMES_FILE, TOO_SLOW, WAITING_AT_ONCE } from './lib/test-lanes.mjs';
import { machineTime, timesTable } from './lib/test-times.mjs';

checkNode();
const { values: options } = parseArgs({
  options: {
    'keep-times': { type: 'boolean', default: false },
    // Tests that needed second tries on this computer for a fault that has been found since.
    mended: { type: 'string', multiple: true, default: [] },
  },
});
const began = performance.now();
const machineBefore = machineTime();
/** What each part took, seconds. */
const phases = [];

async function phase(name, work) {
  const from = performance.now();
  const before = machineTime();
  try {
    return await work();
  } finally {
    const now = machineTime();
    phases.push({
      name,
      seconds: (performance.now() - from) / 1000,
      stolen: now.stolen - before.stolen,
      waited: now.waited - before.waited,
    });
  }
}

const missing = await phase('programs and packages', async () => {
  const [programs] = await Promise.all([
    ensurePrograms([
      'chromium',
      'ffmpeg',
      'nginx with its RTMP module',
      'ngircd',
      'firefox-esr',
      "GStreamer's RTSP server",
      'espeak-ng',
      'iproute2',
      'pebble',
      'pulseaudio',
      'coturn',
    ]),
    ensurePackageFiles().catch((error) => fail(error.message)),
  ]);
  return programs;
});
if (missing.length > 0)
  fail(`The tests need ${missing.join(', ')}: install them, or run the tests as root on Debian.`);

const FOLDERS = ['core', 'protocol', 'engine', 'server', 'standins', 'app', 'tests', 'db'];
let passed = 0;
let failed = 0;
const scratch = mkdtempSync(path.join(os.tmpdir(), 'dolomite-test-'));
const waits = path.join(scratch, 'waits.jsonl');
/** By file: seconds, and seconds of each of its tests. */
const files = [];

function step(command, args, { show = true } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, FORCE_COLOR: '0', NO_COLOR: '1', DOLOMITE_TEST_WAITS: waits },
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
const check = (name, command, args) =>
  phase(name, async () => {
    const { code, text } = await step(command, args, { show: false });
    console.log(`${code === 0 ? 'ok  ' : 'FAIL'} ${name}`);
    if (code === 0) passed += 1;
    else {
      failed += 1;
      console.log(text);
    }
  });

const vitest = (name, config, extra = []) =>
  phase(name, async () => {
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
    if (!existsSync(report)) {
      console.log(`${name}: no report was written`);
      failed += 1;
      return;
    }
    const { numPassedTests, numFailedTests, testResults } = JSON.parse(readFileSync(report, 'utf8'));
    passed += numPassedTests;
    // A file that could not be run at all has no tests to fail.
    failed += Math.max(numFailedTests, code === 0 ? 0 : 1);
    if (numPassedTests === 0 && numFailedTests === 0) failed += 1;
    for (const { name: file, startTime, endTime, assertionResults } of testResults)
      files.push({
        file: path.relative(root, file),
        seconds: (endTime - startTime) / 1000,
        tests: assertionResults.map(({ fullName, duration }) => ({
          name: fullName,
          seconds: (duration ?? 0) / 1000,
        })),
      });
  });

/** Compiling takes one core for minutes where it was never done: what needs no database goes on beside it. */
const native = phase('database, compiled beside the checks', ensureNative).then(
  () => true,
  (error) => {
    console.log(`FAIL database: ${error.message}`);
    failed += 1;
    return false;
  },
);
console.log(`first check after ${Math.round((performance.now() - began) / 1000)} s`);
/** As one of the checks, since everything that is driven needs it. */
async function build() {
  const built = await phase('build', ensureBuild).then(
    () => true,
    (error) => {
      console.log(`FAIL build: ${error.message}`);
      return false;
    },
  );
  if (built) passed += 1;
  else failed += 1;
  if (built) console.log('ok   build');
  return built;
}

const driven = (name, list) => vitest(name, 'tests/vitest.config.ts', list);
/** Without packages' own programs or without pages nothing of a studio can be driven. */
const ready = async () => (await building) && (await native);
const lanes = testLanes(
  ['build'],
  ['types', 'lint and import rules', 'circles', 'what nobody uses', 'formatting', 'unit tests'],
);
const building = build();
const pages = [
  (async () => {
    if (await ready()) await driven('pages, first lane', lanes.pages[0]);
  })(),
  (async () => {
    await check('types', 'npm', ['run', '-s', 'types']);
    await check('lint and import rules', 'npx', ['eslint', '.']);
    await check('circles', 'npx', ['depcruise', '--config', '.dependency-cruiser.cjs', ...FOLDERS]);
    await check('what nobody uses', 'npx', ['knip']);
    await check('formatting', 'npx', ['prettier', '--check', '.']);
    if (await native) await vitest('unit tests', 'vite.config.ts', ['--maxWorkers=1']);
    if (await ready()) await driven('pages, second lane', lanes.pages[1]);
  })(),
];
const sending = Promise.all(pages).then(async () => {
  if (await ready()) await driven('studios that send', lanes.live);
});
await Promise.all([
  sending,
  pages[1].then(async () => {
    if (!(await ready())) return;
    const slow = slowness(files);
    if (slow > TOO_SLOW) {
      console.log(
        `This machine takes ${slow.toFixed(1)} times as long as the one whose times are kept: one lane after the other.`,
      );
      await sending;
    }
    await driven('what mostly waits', [
      ...['--fileParallelism', `--maxWorkers=${WAITING_AT_ONCE}`],
      ...lanes.waiting,
    ]);
    await driven('pages beside a studio that sends', lanes.beside);
  }),
]);

/** What the tests told: what files waited for, and which test needed its second try. */
const told = existsSync(waits)
  ? readFileSync(waits, 'utf8')
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line))
  : [];
const secondTries = told.filter((line) => line.secondTry);
console.log(
  `\n${timesTable({ phases, files, waits: told.filter((line) => line.waits), machine: { before: machineBefore, after: machineTime() } })}`,
);
if (options['keep-times']) {
  const rounded = (pairs) => Object.fromEntries(pairs.map(([name, seconds]) => [name, Math.round(seconds)]));
  writeFileSync(
    TIMES_FILE,
    `${JSON.stringify(
      {
        parts: rounded(phases.map(({ name, seconds }) => [name, seconds])),
        files: rounded(
          files
            .filter(({ file }) => file.startsWith('tests/'))
            .sort((a, b) => a.file.localeCompare(b.file))
            .map(({ file, seconds }) => [file, seconds]),
        ),
      },
      null,
      2,
    )}\n`,
  );
}
rmSync(scratch, { recursive: true, force: true });
for (const { secondTry, why } of secondTries) console.log(`second try: ${secondTry} (${why})`);
const { runs: lately, hiding } = noteSecondTries(
  secondTries.map((line) => line.secondTry),
  options.mended,
  slowness(files),
);
if (secondTries.length > 0)
  console.log(
    `${secondTries.length} needed a second try: ${secondTries.map((line) => line.secondTry).join('; ')}`,
  );
if (hiding.length > 0) {
  failed += 1;
  console.log(
    `FAIL ${lately.flat().length} second tries in the last ${lately.length} runs on this computer; find why: ${hiding.join('; ')}`,
  );
}
console.log(longTestsLine(root));
console.log(`all of it in ${Math.round((performance.now() - began) / 1000)} s`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
