import { execFileSync } from 'node:child_process';
import { closeSync, ftruncateSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { broadcastWavHeader, type BroadcastFacts } from './broadcast';

const folder = mkdtempSync(join(tmpdir(), 'broadcast-'));
afterAll(() => rmSync(folder, { recursive: true }));

const facts: BroadcastFacts = {
  description: 'Ferry Weather: “The last chain ferry”',
  originator: 'Brisk Lantern',
  originatorReference: 'take-1',
  recordedAt: new Date('2026-11-23T21:15:03Z'),
  timeReference: 3_672_144_000,
  loudness: { integratedLufs: -18.25, rangeLu: 6, truePeakDb: -1.5, momentaryMaxLufs: null, shortTermMaxLufs: null },
  codingHistory: 'A=PCM\r\n',
  cues: [{ atSample: 5, name: 'Żegluga – naïve?' }],
};

/** A file of that many frames of silence which takes no room on the disk. */
function sparse(name: string, frames: number): string {
  const path = join(folder, name);
  const header = broadcastWavHeader({ format: 'pcm24', channels: 2, sampleRate: 48000 }, frames, facts);
  const file = openSync(path, 'w');
  writeSync(file, header);
  ftruncateSync(file, header.length + frames * 6);
  closeSync(file);
  return path;
}

describe('a broadcast WAV file', () => {
  it('beyond 4 GiB is RF64 that other tools read whole', () => {
    const frames = 5 * 3600 * 48000;
    const path = sparse('five-hours.wav', frames);
    const info = JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-show_format', '-show_streams', '-of', 'json', path], { encoding: 'utf8' }));
    expect(Number(info.format.size)).toBeGreaterThan(2 ** 32);
    expect(Number(info.streams[0].duration_ts)).toBe(frames);
    expect(info.format.tags).toMatchObject({ encoded_by: 'Brisk Lantern', date: '2026-11-23', time_reference: '3672144000' });
    expect(execFileSync('sndfile-metadata-get', ['--all', path], { encoding: 'utf8' })).toContain('Brisk Lantern');
  });

  it('below that is plain RIFF, its words plain ASCII', () => {
    const path = sparse('short.wav', 4800);
    const said = execFileSync('sndfile-metadata-get', ['--all', path], { encoding: 'utf8' });
    expect(said).toMatch(/Description\s+: Ferry Weather: \?The last chain ferry\?/);
    expect(said).toMatch(/Loudness value\s+: -18.25/);
    expect(execFileSync('sndfile-info', [path], { encoding: 'utf8' })).toMatch(/labl : 1 : Zegluga \? naive\?/);
  });
});
