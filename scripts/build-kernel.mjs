// Compiles the engine's inner loops to WebAssembly and writes them as a module the core can import
// without loading anything: the audio thread has neither fetch nor files. The result is committed;
// a unit test compares it with a fresh compilation.
import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const SOURCE = 'src/core/kernel/kernel.as.ts';
const RESULT = 'src/core/kernel/kernel-bytes.ts';

/** @returns {Promise<string>} the module's bytes in base64 */
export async function compileKernel() {
  const files = new Map();
  const { error, stderr } = await asc.main(
    [SOURCE, '--outFile', 'kernel.wasm', '-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd',
      '--importMemory', '--initialMemory', '1', '--maximumMemory', '4096', '--use', 'abort='],
    { writeFile: (name, bytes) => files.set(name, bytes) },
  );
  if (error) throw new Error(`The kernel did not compile: ${stderr.toString()}`);
  return Buffer.from(files.get('kernel.wasm')).toString('base64');
}

if (process.argv[1] && resolve(process.argv[1]) === fileURLToPath(import.meta.url)) {
  const base64 = await compileKernel();
  const lines = base64.match(/.{1,96}/g).map((line) => `  '${line}',`);
  writeFileSync(
    RESULT,
    `// Compiled from kernel.as.ts by \`npm run kernel\`; not written by hand.\nexport const KERNEL_BASE64 = [\n${lines.join('\n')}\n].join('');\n`,
  );
}
