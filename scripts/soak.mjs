// Long fault tests: `npm run soak -- --kills 200 --seed 9`. The same tests run with a few kills in `npm test`.
import { parseArgs } from 'node:util';
import path from 'node:path';
import { ensureBuild, ensurePackages, root, run } from './lib/prepare.mjs';

const { values } = parseArgs({
  options: { kills: { type: 'string', default: '200' }, seed: { type: 'string', default: '9' } },
});
await ensurePackages();
await ensureBuild();
await run(
  process.execPath,
  [
    path.join(root, 'node_modules/vitest/vitest.mjs'),
    'run',
    '--config',
    'tests/vitest.config.ts',
    '--retry=0',
    'tests/soak',
    'tests/e2e/large-show.test.ts',
  ],
  { stdio: 'inherit', env: { ...process.env, DOLOMITE_SOAK: values.kills, DOLOMITE_SEED: values.seed } },
);
