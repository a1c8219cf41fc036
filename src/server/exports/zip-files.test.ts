import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { afterAll, expect, it } from 'vitest';
import { zipFiles } from './zip-files';

const folder = mkdtempSync(join(tmpdir(), 'zip-'));
afterAll(() => rmSync(folder, { recursive: true }));

const nothing = Buffer.alloc(2 ** 20);

/** Writes a file in which zeros take no room, so that gigabytes fit on any disk. */
async function sparseWriter(path: string): Promise<Writable> {
  const file = await open(path, 'w');
  let at = 0;
  return new Writable({
    write(bytes: Buffer, _, done) {
      const from = at;
      at += bytes.length;
      if (bytes.equals(nothing.subarray(0, bytes.length))) done();
      else file.write(bytes, 0, bytes.length, from).then(() => done(), done);
    },
    final(done) {
      file.truncate(at).then(() => file.close()).then(() => done(), done);
    },
  });
}

it('a package beyond 4 GiB is one that unzip reads whole', { timeout: 240_000 }, async () => {
  const long = join(folder, 'long.wav');
  writeFileSync(long, 'RF64');
  truncateSync(long, 2 ** 32 + 4097);
  const short = join(folder, 'short.wav');
  writeFileSync(short, 'RIFF');
  const path = join(folder, 'package.zip');
  await pipeline(zipFiles([{ path: long, name: '01_maren_voice.wav' }, { path: short, name: '02_odalys_voice.wav' }], { 'manifest.json': '{}' }, new Date('2026-11-23T10:00:00Z')), await sparseWriter(path));
  expect(execFileSync('unzip', ['-t', '-q', path], { encoding: 'utf8' })).toContain('No errors detected');
  const listed = execFileSync('unzip', ['-l', path], { encoding: 'utf8' });
  expect(listed).toMatch(new RegExp(`${2 ** 32 + 4097}\\s.*01_maren_voice.wav`));
  expect(listed).toMatch(/4\s.*02_odalys_voice.wav/);
});
