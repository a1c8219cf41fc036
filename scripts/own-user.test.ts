import { execFileSync, spawnSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { SERVICE_USER } from './own-user.mjs';

const folder = mkdtempSync(join(tmpdir(), 'own-user-'));
const isRoot = process.getuid?.() === 0;
const userThere = spawnSync('id', [SERVICE_USER]).status === 0;
afterAll(() => {
  rmSync(folder, { recursive: true });
  if (isRoot && !userThere) spawnSync('userdel', [SERVICE_USER]);
});

/** What a start command that only looks at itself says when root starts it. */
function started(files: string[] = []): { said: string; status: number | null } {
  const program = `import { startAsOwnUser } from ${JSON.stringify(resolve('scripts/own-user.mjs'))}; process.exitCode = await startAsOwnUser(['--public', 'desk.example'], ${JSON.stringify(files)}).catch((error) => (console.log(error.message), 9));`;
  const { stdout, status } = spawnSync(process.execPath, ['--input-type=module', '-e', program], { cwd: folder, encoding: 'utf8' });
  return { said: stdout.trim(), status };
}

describe.skipIf(!isRoot)('a start that others can reach', () => {
  it('runs as a user of its own, which may listen on low ports, write its data, and nothing else', () => {
    chmodSync(folder, 0o755);
    for (const name of ['scripts', 'data', '.next']) mkdirSync(join(folder, name));
    writeFileSync(join(folder, 'package.json'), '{}');
    writeFileSync(join(folder, 'data/kept'), 'by root', { mode: 0o600 });
    writeFileSync(
      join(folder, 'scripts/start.mjs'),
      `import { execFileSync } from 'node:child_process';
       import { readFileSync, writeFileSync } from 'node:fs';
       const may = (work) => { try { work(); return true; } catch { return false; } };
       const rights = /CapEff:\\s*(\\w+)/.exec(readFileSync('/proc/self/status', 'utf8'))[1];
       console.log(JSON.stringify({ user: execFileSync('id', ['-un'], { encoding: 'utf8' }).trim(), rights: Number('0x' + rights), data: may(() => writeFileSync('data/kept', 'x')), code: may(() => writeFileSync('scripts/start.mjs', '')), words: process.argv.slice(2) }));
       process.exit(3);`,
    );
    const { said, status } = started();
    expect(status).toBe(3);
    // Bit 10 is CAP_NET_BIND_SERVICE (capabilities(7)), alone.
    expect(JSON.parse(said)).toEqual({ user: SERVICE_USER, rights: 1 << 10, data: true, code: false, words: ['--public', 'desk.example'] });
  });

  it('says what that user cannot read', () => {
    const key = join(folder, 'key.pem');
    writeFileSync(key, 'secret', { mode: 0o600 });
    expect(started([key])).toEqual({ status: 9, said: expect.stringContaining(`cannot read ${key}. Let it: setfacl`) });
    execFileSync('chmod', ['700', folder]);
    expect(started().said).toContain('Move the folder to where others than root get, such as /opt/brisk-lantern.');
  });
});
