import { readFileSync } from 'node:fs';
import path from 'node:path';
import asc from 'assemblyscript/asc';

const FOLDER = 'core/picture/colour-kernel';
const SOURCE = `${FOLDER}/kernel.as.ts`;
/** Where the compiled kernel is kept. */
export const BINARY = `${FOLDER}/kernel-binary.ts`;

/** The kernel, compiled. @returns {Promise<Uint8Array>} @throws Error with the compiler's words */
export async function compileKernel() {
  let binary = null;
  const { error, stderr } = await asc.main(
    [
      SOURCE,
      ...['-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd', '--initialMemory', '1'],
      ...['--outFile', 'kernel.wasm'],
    ],
    {
      readFile: (name, base) => {
        try {
          return readFileSync(path.resolve(base, name), 'utf8');
        } catch {
          return null;
        }
      },
      writeFile: (_, contents) => void (binary = contents),
    },
  );
  if (error || !binary) throw new Error(`the kernel could not be compiled: ${stderr.toString() || error}`);
  return binary;
}

/** @param {Uint8Array} binary */
export function binaryText(binary) {
  const lines = Buffer.from(binary)
    .toString('base64')
    .match(/.{1,100}/g);
  return `/** Made from \`kernel.as.ts\` and what it imports by \`npm run kernel\`: WebAssembly, base64. */
export const KERNEL =
${lines.map((line) => `  '${line}'`).join(' +\n')};
`;
}
