// Hostile input at every border, for minutes: `npm run attack -- --minutes 10 --seed 7`. A short one runs in `npm test`.
import path from 'node:path';
import { parseArgs } from 'node:util';
import { ensureBuild, ensurePackages, fail, root, run } from './lib/prepare.mjs';

const { values } = parseArgs({
  options: { minutes: { type: 'string', default: '10' }, seed: { type: 'string', default: '1' } },
});
const seconds = Number(values.minutes) * 60;
if (!(seconds > 0) || !Number.isInteger(Number(values.seed))) fail('Options: --minutes N, --seed N');
await ensurePackages();
await ensureBuild();
await run(
  process.execPath,
  [
    path.join(root, 'node_modules/vitest/vitest.mjs'),
    ...['run', '--config', 'tests/vitest.config.ts', '--retry=0', 'tests/attack'],
  ],
  {
    stdio: 'inherit',
    env: { ...process.env, DOLOMITE_ATTACK_SECONDS: String(seconds), DOLOMITE_SEED: values.seed },
  },
).catch(() => process.exit(1));
