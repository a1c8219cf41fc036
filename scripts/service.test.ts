import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { keptEnvironment, unitText } from './service.mjs';

const folder = mkdtempSync(join(tmpdir(), 'unit-'));
afterAll(() => rmSync(folder, { recursive: true }));

describe('the service', () => {
  const unit = unitText({ node: process.execPath, folder: process.cwd(), words: ['--public', 'desk.example', '--email', 'a "b" $HOME 50% \\'], user: 'root', environment: { METRICS_TOKEN: 'with "quotes" and 100%' } });

  it('starts with the words it was installed with, whatever is in them, and no shell reads them', () => {
    expect(unit).toContain(`ExecStart="${process.execPath}" "scripts/start.mjs" "--public" "desk.example" "--email" "a \\"b\\" $$HOME 50%% \\\\"`);
    expect(unit).toContain('Environment="METRICS_TOKEN=with \\"quotes\\" and 100%%"');
    expect(unit).toContain('AmbientCapabilities=CAP_NET_BIND_SERVICE');
  });

  it('is a unit that systemd takes', () => {
    if (spawnSync('systemd-analyze', ['--version']).status !== 0) return;
    const file = join(folder, 'brisk-lantern.service');
    writeFileSync(file, unit);
    const { stderr } = spawnSync('systemd-analyze', ['verify', '--man=no', file], { encoding: 'utf8' });
    expect(stderr.split('\n').filter((line) => line.includes('brisk-lantern'))).toEqual([]);
  });

  it('takes along what was set, and nothing else of whoever installs it', () => {
    expect(keptEnvironment({ AIR_HOSTS: 'radio.example', HOME: '/root', PATH: '/bin' })).toEqual({ AIR_HOSTS: 'radio.example' });
  });
});
