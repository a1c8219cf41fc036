// Loaded into the product's processes by a soak: at SIGUSR2 a process throws away what nobody holds any more and writes down
// how much memory is left in use, MB, so that growth is told from garbage.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import v8 from 'node:v8';
import vm from 'node:vm';

v8.setFlagsFromString('--expose-gc');
const collect = vm.runInNewContext('gc');

process.on('SIGUSR2', () => {
  collect();
  const { heapUsed, external } = process.memoryUsage();
  writeFileSync(join(process.env.MEMORY_FOLDER, String(process.pid)), String((heapUsed + external) / 2 ** 20));
});
