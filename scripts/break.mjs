// Whether the tests bite: each fault of tests/faults is put into a scratch copy, and the test named beside it must fail.
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { FAULTS } from '../tests/faults/faults.mjs';
import { checkNode, ensureBuild, ensurePackages, fail, root } from './lib/prepare.mjs';

checkNode();
const { only } = parseArgs({ options: { only: { type: 'string', multiple: true, default: [] } } }).values;
await ensurePackages().catch((error) => fail(error.message));
await ensureBuild().catch((error) => fail(error.message));

const scratch = mkdtempSync(path.join(os.tmpdir(), 'dolomite-break-'));
const skipped = new Set(['node_modules', '.git', 'data']);
cpSync(root, scratch, {
  recursive: true,
  filter: (from) => !skipped.has(path.relative(root, from).split(path.sep)[0]),
});
symlinkSync(path.join(root, 'node_modules'), path.join(scratch, 'node_modules'));
const built = path.join(scratch, 'build');
const whole = path.join(scratch, 'build-whole');

function run(fault) {
  const config = fault.test.startsWith('tests/') ? 'tests/vitest.config.ts' : 'vite.config.ts';
  const args = [
    'vitest',
    'run',
    '--config',
    config,
    '--bail=1',
    '--retry=0',
    '--reporter=json',
    '--outputFile.json=report.json',
    fault.test,
  ];
  if (fault.only) args.push('-t', fault.only);
  spawnSync('npx', args, { cwd: scratch, stdio: 'ignore', timeout: 600_000 });
  const report = path.join(scratch, 'report.json');
  if (!existsSync(report)) return { ran: 0, failed: 0 };
  const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, 'utf8'));
  rmSync(report);
  return { ran: numPassedTests + numFailedTests, failed: numFailedTests };
}

let found = 0;
let missed = 0;
for (const fault of FAULTS) {
  if (only.length > 0 && !only.some((part) => fault.name.includes(part))) continue;
  const file = path.join(scratch, fault.file);
  const text = readFileSync(file, 'utf8');
  if (!text.includes(fault.from))
    fail(`"${fault.name}": ${fault.file} no longer has what it changes. Bring it up to date.`);
  writeFileSync(
    file,
    text.replace(fault.from, () => fault.to),
  );
  if (fault.build) {
    cpSync(built, whole, { recursive: true });
    const { status } = spawnSync(process.execPath, ['scripts/build.mjs'], { cwd: scratch, stdio: 'ignore' });
    if (status !== 0) fail(`"${fault.name}" does not build`);
  }
  const { ran, failed } = run(fault);
  writeFileSync(file, text);
  if (fault.build) {
    rmSync(built, { recursive: true, force: true });
    cpSync(whole, built, { recursive: true });
    rmSync(whole, { recursive: true, force: true });
  }
  const bites = failed > 0;
  if (bites) found += 1;
  else missed += 1;
  console.log(`${bites ? 'found ' : 'MISSED'} ${fault.name} (${fault.test}: ${failed} of ${ran} failed)`);
}
rmSync(scratch, { recursive: true, force: true });
console.log(`\n${found} passed, ${missed} failed`);
process.exit(missed === 0 ? 0 : 1);
