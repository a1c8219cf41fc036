import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { afterAll, expect, it } from 'vitest';
import { storedZip, storedZipBytes, textEntries, type ZipEntry } from './stored-zip';

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

/** Silence after four letters. */
function file(name: string, letters: string, bytes: number): ZipEntry {
  return {
    name,
    bytes,
    *content() {
      yield Buffer.from(letters);
      for (let left = bytes - letters.length; left > 0; left -= nothing.length) yield nothing.subarray(0, left);
    },
  };
}

it('a package beyond 4 GiB is one that unzip reads whole, as long as it said beforehand', { timeout: 240_000 }, async () => {
  const path = join(folder, 'package.zip');
  const entries = [file('01_maren_voice.wav', 'RF64', 2 ** 32 + 4097), file('02_Åse_voice.wav', 'RIFF', 4), ...textEntries({ 'manifest.json': '{}' })];
  await pipeline(Readable.from(storedZip(entries, new Date('2026-11-23T10:00:00Z'))), await sparseWriter(path));
  expect(statSync(path).size).toBe(storedZipBytes(entries));
  expect(execFileSync('unzip', ['-t', '-q', path], { encoding: 'utf8' })).toContain('No errors detected');
  const listed = execFileSync('unzip', ['-l', path], { encoding: 'utf8' });
  expect(listed).toMatch(new RegExp(`${2 ** 32 + 4097}\\s+2026-11-23 10:00\\s+01_maren_voice.wav`));
  expect(listed).toMatch(/4\s.*02_.*se_voice.wav/);
});

it('a file that is not as long as it said spoils no package silently', async () => {
  const drain = async () => {
    for await (const piece of storedZip([{ ...file('a.wav', 'RIFF', 400), bytes: 401 }], new Date())) void piece;
  };
  await expect(drain()).rejects.toThrow(/“a.wav” has 400 bytes/);
});
