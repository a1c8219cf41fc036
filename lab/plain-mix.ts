import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Microseconds a block that a mix takes as anybody would write it in C; null where there is no compiler. */
export function plainMixMicroseconds(size: number): number | null {
  if (spawnSync('cc', ['--version']).status !== 0) return null;
  const folder = mkdtempSync(join(tmpdir(), 'plain-mix-'));
  try {
    const program = join(folder, 'mixing-reference');
    execFileSync('cc', ['-O3', '-o', program, 'lab/mixing-reference.c']);
    return Number(execFileSync(program, [String(size)], { encoding: 'utf8' }).split(' ')[0]);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
