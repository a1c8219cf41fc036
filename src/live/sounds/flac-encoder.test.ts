import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { createRandom } from '@/core/random';
import { readFlacStreamInfo } from '@/core/formats/flac/stream-info';
import { decodeSamples } from '@/core/formats/wav/sample-format';
import { encodeFlac } from './flac-encoder';

describe('a sound kept as FLAC', () => {
  it('is what it was to 24 bits, by another decoder, with its length and checksum', async () => {
    const random = createRandom(4);
    const channels = [0, 1].map(() => Float32Array.from({ length: 60_001 }, () => 1.4 * (random.next() * 2 - 1)));
    const bytes = await encodeFlac(channels);
    expect(readFlacStreamInfo(bytes)).toEqual({ sampleRate: 48000, channels: 2, lengthSamples: 60_001 });
    const folder = mkdtempSync(join(tmpdir(), 'flac-'));
    try {
      const path = join(folder, 'a.flac');
      writeFileSync(path, bytes);
      // The decoder compares the checksum of all samples with the one in the header.
      const raw = execFileSync('ffmpeg', ['-v', 'error', '-xerror', '-err_detect', 'crccheck+explode', '-i', path, '-f', 's24le', '-'], { maxBuffer: 2 ** 24 });
      const decoded = decodeSamples('pcm24', 2, raw);
      for (const [k, samples] of channels.entries()) {
        expect(decoded[k]).toHaveLength(samples.length);
        const worst = samples.reduce((most, x, i) => Math.max(most, Math.abs(Math.max(-1, Math.min(1, x)) - decoded[k][i])), 0);
        expect(worst).toBeLessThanOrEqual(1.1 / 2 ** 23);
      }
      expect([...bytes.subarray(26, 42)].some((byte) => byte !== 0)).toBe(true);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
