// Compiles the colour kernel from AssemblyScript and keeps it as text that the core imports.
import { writeFileSync } from 'node:fs';
import { compileKernel, BINARY, binaryText } from './lib/kernel.mjs';

writeFileSync(BINARY, binaryText(await compileKernel()));
console.log(`${BINARY} written`);
