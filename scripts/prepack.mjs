// Before the package is made: what goes into it is built from these sources.
import { checkNode, ensureBuild, ensurePackages, fail } from './lib/prepare.mjs';

checkNode();
try {
  await ensurePackages();
  await ensureBuild();
} catch (error) {
  fail(`The package could not be made: ${error.message}`);
}
