// Long, because it follows one take from its first chunk to its download.
import { listMarkers, markersAsCsv, storeMarker } from './markers';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import { createWavReader } from '@/core/formats/wav/reader';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { MOST_TRACKS } from '@/core/limits';
import { beginTake } from './begin-take';
import { addLateTracks, type LateTrack } from './late-tracks';
import { insertLineReports, listLineReports, MOST_REPORTS_OF_LINE } from './line-reports';
import { loadTake } from './load-take';
import { trackPackage } from '../exports/track-package';
import { rangedDownload, stretchOf } from '../http/ranged-download';
import { trackDownload } from './downloads';
import { findTrack, listTakes } from './queries';
import { READ_AT_ONCE, trackAsWav, trackPeaks, wavFileBytes } from './read-track';
import { receiveChunks } from './receive-chunks';
import { sealTake } from './seal-take';

const db = testDatabase();

const TRACKS = [
  { kind: 'voice', recorded: 'voice:maren', name: 'Maren Sollis', channels: 1, format: 'pcm24' },
  { kind: 'sounds', recorded: 'sounds:bed', name: 'Bed', channels: 2, format: 'pcm24' },
] as const;

async function newTake() {
  const begun = await beginTake(db.pool(), await demoEpisode(db.pool()), TRACKS);
  return { ...begun, mono: begun.tracks[0], stereo: begun.tracks[1] };
}

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** A ramp that says where each sample belongs. */
function samplesOf(channels: number, index: number, frames = CHUNK_FRAMES) {
  const planar = Array.from({ length: channels }, (_, c) =>
    Float32Array.from({ length: frames }, (_, i) => ((index * CHUNK_FRAMES + i) / 2 ** 20) * (c === 0 ? 1 : -1)),
  );
  return encodeSamples('pcm24', planar, 0, frames);
}

async function send(take: string, track: string, index: number, samples: Uint8Array) {
  return (await receiveChunks(db.pool(), take, [{ track, index, sha256: sha256(samples), samples }]))[0];
}

const seal = (take: string, lengthSamples: number | null) =>
  sealTake(db.pool(), { take, lengthSamples, clockAtStart: 0, clockAtCall: null, gaps: [] });

describe('a chunk', () => {
  it('is stored once, however often and in whatever order it comes', async () => {
    const { take, mono } = await newTake();
    expect(await send(take, mono, 1, samplesOf(1, 1))).toBe('stored');
    expect(await send(take, mono, 0, samplesOf(1, 0))).toBe('stored');
    expect(await send(take, mono, 1, samplesOf(1, 1))).toBe('already-stored');
    const twins = await Promise.all([2, 2, 2].map((index) => send(take, mono, index, samplesOf(1, index))));
    expect(twins.filter((answer) => answer === 'stored')).toHaveLength(1);
  });

  it('with a wrong checksum is refused and not kept', async () => {
    const { take, mono } = await newTake();
    const samples = samplesOf(1, 0);
    const damaged = receiveChunks(db.pool(), take, [{ track: mono, index: 0, sha256: sha256(Uint8Array.of(1)), samples }]);
    await expect(damaged).rejects.toMatchObject({ status: 422, code: 'checksum' });
    expect(await send(take, mono, 0, samples)).toBe('stored');
  });

  it('comes with others, and all of them are kept or none', async () => {
    const { take, mono, stereo } = await newTake();
    const parcel = (...chunks: [track: string, index: number, samples: Uint8Array][]) => receiveChunks(db.pool(), take, chunks.map(([track, index, samples]) => ({ track, index, sha256: sha256(samples), samples })));
    expect(await parcel([stereo, 1, samplesOf(2, 1)], [mono, 0, samplesOf(1, 0)])).toEqual(['stored', 'stored']);
    await expect(parcel([mono, 1, samplesOf(1, 1)], [stereo, 1, samplesOf(2, 7)])).rejects.toMatchObject({ code: 'chunk-conflict' });
    expect(await parcel([mono, 1, samplesOf(1, 1)], [mono, 0, samplesOf(1, 0)])).toEqual(['stored', 'already-stored']);
    // The same chunks in opposite orders at once: nobody waits for the other for ever.
    const [a, b] = [0, 1].map((k): [string, number, Uint8Array] => [k === 0 ? mono : stereo, 5, samplesOf(k + 1, 5)]);
    const both = await Promise.all(Array.from({ length: 6 }, (_, k) => (k % 2 === 0 ? parcel(a, b) : parcel(b, a))));
    expect(both.flat().filter((one) => one === 'stored')).toHaveLength(2);
  });

  it('cannot replace another, be cut in the middle of a frame, or join a take it does not belong to', async () => {
    const { take, mono, stereo } = await newTake();
    const other = await newTake();
    await send(take, mono, 0, samplesOf(1, 0));
    await expect(send(take, mono, 0, samplesOf(1, 5))).rejects.toMatchObject({ status: 409, code: 'chunk-conflict' });
    await expect(send(take, stereo, 0, new Uint8Array(7))).rejects.toMatchObject({ status: 422, code: 'chunk-length' });
    await expect(send(take, mono, 1, new Uint8Array(0))).rejects.toMatchObject({ code: 'chunk-length' });
    await expect(send(take, mono, 1, samplesOf(1, 0, CHUNK_FRAMES + 1))).rejects.toMatchObject({ code: 'chunk-length' });
    await expect(send(other.take, mono, 1, samplesOf(1, 1))).rejects.toMatchObject({ status: 404 });
  });
});

describe('a seal', () => {
  it('waits for every chunk, names those that miss, then closes the take for good', async () => {
    const { take, mono, stereo } = await newTake();
    const length = CHUNK_FRAMES + 500;
    await send(take, mono, 0, samplesOf(1, 0));
    await send(take, mono, 1, samplesOf(1, 1, 500));
    await send(take, stereo, 1, samplesOf(2, 1, 500));
    await expect(seal(take, length)).rejects.toMatchObject({
      status: 409,
      code: 'chunks-missing',
      issues: [{ path: `${stereo}/0`, code: 'missing-chunk' }],
    });
    await send(take, stereo, 0, samplesOf(2, 0));
    expect(await seal(take, length)).toBe(length);
    expect(await seal(take, length)).toBe(length);
    await expect(seal(take, length + 1)).rejects.toMatchObject({ code: 'take-sealed' });
    await expect(send(take, mono, 2, samplesOf(1, 2))).rejects.toMatchObject({ status: 409, code: 'take-sealed' });
    // A late copy of what is already there does no harm and is welcome.
    expect(await send(take, mono, 0, samplesOf(1, 0))).toBe('already-stored');
  });

  it('at a length that nothing could have is refused; a long silence is one gap, and not a million', async () => {
    const { take, mono, stereo } = await newTake();
    await send(take, mono, 0, samplesOf(1, 0));
    await expect(seal(take, 2 ** 50)).rejects.toMatchObject({ status: 422, code: 'length' });
    await send(take, mono, 100_000, samplesOf(1, 0));
    await expect(seal(take, 100_001 * CHUNK_FRAMES)).rejects.toMatchObject({ code: 'chunks-missing', issues: [{ path: `${mono}/1` }, { path: `${stereo}/0` }] });
    await seal(take, null);
    expect((await loadTake(db.pool(), take)).gaps.map(({ track, lengthSamples }) => [track, lengthSamples])).toEqual([
      [stereo, 100_001 * CHUNK_FRAMES],
      [mono, 99_999 * CHUNK_FRAMES],
    ]);
  });

  it('of a take that was left open keeps what is safe and lists what is not', async () => {
    const { take, mono, stereo } = await newTake();
    await send(take, mono, 0, samplesOf(1, 0));
    await send(take, mono, 1, samplesOf(1, 1));
    await send(take, stereo, 0, samplesOf(2, 0));
    expect(await seal(take, null)).toBe(2 * CHUNK_FRAMES);
    const { gaps, lengthSamples } = await loadTake(db.pool(), take);
    expect(lengthSamples).toBe(2 * CHUNK_FRAMES);
    expect(gaps).toEqual([{ track: stereo, atSample: CHUNK_FRAMES, lengthSamples: CHUNK_FRAMES, cause: 'not-received' }]);
  });
});

describe('a sealed take', () => {
  it('gives back every sample in its place, silence for gaps, all tracks of one length', async () => {
    const { take, mono, stereo } = await newTake();
    const length = 2 * CHUNK_FRAMES + 1001;
    for (const index of [2, 0]) await send(take, mono, index, samplesOf(1, index, index === 2 ? 1001 : CHUNK_FRAMES));
    for (const index of [0, 1, 2]) await send(take, stereo, index, samplesOf(2, index, index === 2 ? 1001 : CHUNK_FRAMES));
    await seal(take, null);
    for (const id of [mono, stereo]) {
      const track = await findTrack(db.pool(), take, id);
      const parts: Uint8Array[] = [];
      for await (const part of trackAsWav(db.pool(), track, length)) parts.push(part);
      const bytes = Buffer.concat(parts);
      expect(bytes.length).toBe(wavFileBytes(track, length));
      const reader = createWavReader();
      const [left] = reader.push(bytes);
      reader.close();
      expect(left.length).toBe(length);
      const expected = (i: number) => (id === mono && Math.floor(i / CHUNK_FRAMES) === 1 ? 0 : i / 2 ** 20);
      for (const i of [0, 1, CHUNK_FRAMES - 1, CHUNK_FRAMES, CHUNK_FRAMES + 7, 2 * CHUNK_FRAMES, length - 1]) {
        expect(left[i]).toBeCloseTo(expected(i), 6);
      }
      const peaks = await trackPeaks(db.pool(), track, length, { columns: 10 });
      expect(peaks.length).toBe(20);
      expect(Math.max(...peaks)).toBeCloseTo((length / 2 ** 20) * 32767, -1);
    }
    const { tracks } = await loadTake(db.pool(), take);
    expect(tracks[0].peakDb).toBeCloseTo(20 * Math.log10(length / 2 ** 20), 1);
  });

  it('has a number of its own even when two begin at once', async () => {
    const before = (await listTakes(db.pool(), await demoEpisode(db.pool()))).length;
    const numbers = (await Promise.all([newTake(), newTake(), newTake()])).map(({ number }) => number);
    expect(new Set(numbers).size).toBe(3);
    expect(Math.max(...numbers)).toBe(before + 3);
  });
});

describe('tracks that come late', () => {
  const late = (fromSample: number): LateTrack => ({ id: crypto.randomUUID(), kind: 'voice', recorded: 'voice:ines', name: 'Ines Carrow', channels: 1, format: 'pcm24', fromSample });

  it('are silent up to their first sample, need nothing before it, and may be sent again', async () => {
    const { take, mono, stereo } = await newTake();
    const ines = late(CHUNK_FRAMES + 700);
    await addLateTracks(db.pool(), take, [ines]);
    await addLateTracks(db.pool(), take, [ines]);
    const length = 3 * CHUNK_FRAMES;
    for (const index of [0, 1, 2]) await send(take, mono, index, samplesOf(1, index));
    for (const index of [0, 1, 2]) await send(take, stereo, index, samplesOf(2, index));
    await send(take, ines.id, 2, samplesOf(1, 2));
    // The chunk in which it begins has to come; the one before has not.
    await expect(seal(take, length)).rejects.toMatchObject({ issues: [{ path: `${ines.id}/1` }] });
    await send(take, ines.id, 1, samplesOf(1, 1));
    expect(await seal(take, length)).toBe(length);
    const { tracks, gaps } = await loadTake(db.pool(), take);
    expect(tracks.map(({ name }) => name)).toEqual(['Maren Sollis', 'Bed', 'Ines Carrow']);
    expect(gaps).toEqual([{ track: ines.id, atSample: 0, lengthSamples: CHUNK_FRAMES + 700, cause: 'not-in-call' }]);
    const parts: Uint8Array[] = [];
    for await (const part of trackAsWav(db.pool(), await findTrack(db.pool(), take, ines.id), length)) parts.push(part);
    const reader = createWavReader();
    const [samples] = reader.push(Buffer.concat(parts));
    expect([samples.length, samples[CHUNK_FRAMES - 1], samples[2 * CHUNK_FRAMES + 9]]).toEqual([length, 0, (2 * CHUNK_FRAMES + 9) / 2 ** 20]);
  });

  it('are refused by a take that is sealed, and by one that is full', async () => {
    const { take, mono } = await newTake();
    await expect(addLateTracks(db.pool(), take, Array.from({ length: MOST_TRACKS }, () => late(0)))).rejects.toMatchObject({ status: 409, code: 'take-full' });
    await send(take, mono, 0, samplesOf(1, 0));
    await seal(take, null);
    await expect(addLateTracks(db.pool(), take, [late(0)])).rejects.toMatchObject({ status: 409, code: 'take-sealed' });
  });
});

describe('what the lines of a take were like', () => {
  it('is as much as can be drawn, and holds the worst moment however short it was', async () => {
    const { take } = await newTake();
    const way = { delayMs: 90, bufferMs: 40, lossShare: 0, jitterMs: 2, concealedMs: 0, kbps: 48 };
    const reports = Array.from({ length: 5000 }, (_, second) => ({
      seat: 'ines',
      atSample: second * 48_000,
      report: { roundTripMs: 60, toDesk: { ...way, concealedMs: second === 3217 ? 870 : 0 }, toGuest: second % 2 ? way : null },
    }));
    await insertLineReports(db.pool(), take, reports);
    const listed = await listLineReports(db.pool(), take);
    expect(listed.length).toBe(MOST_REPORTS_OF_LINE);
    expect(listed.find(({ atSample }) => atSample === 3217 * 48_000)).toEqual(reports[3217]);
    expect(listed.map(({ atSample }) => atSample)).toEqual(listed.map(({ atSample }) => atSample).sort((a, b) => a - b));
  });
});

const asking = (headers: Record<string, string>) => new Request('http://127.0.0.1/', { headers });

describe('a download', () => {
  it('says how long it is, and carries the day it was where the show is made', async () => {
    const { take, mono, stereo } = await newTake();
    await send(take, mono, 0, samplesOf(1, 0));
    await send(take, stereo, 0, samplesOf(2, 0));
    await seal(take, null);
    await db.pool().query("update take set started_at = '2026-11-23T20:30:00Z' where id = $1", [take]);
    for (const [zone, day] of [['Pacific/Auckland', '2026-11-24'], ['America/Bogota', '2026-11-23']]) {
      await db.pool().query('update show set time_zone = $2 where id = (select show_id from episode join take on episode_id = episode.id where take.id = $1)', [take, zone]);
      for (const file of [await trackPackage(db.pool(), take), await trackDownload(db.pool(), take, mono)]) {
        const response = rangedDownload(asking({}), file);
        expect(response.headers.get('content-disposition')).toContain(day);
        expect((await response.arrayBuffer()).byteLength).toBe(Number(response.headers.get('content-length')));
      }
    }
  });

  it('of all tracks is a ZIP that holds what its papers say, and goes on where it broke off as long as nothing in it changed', async () => {
    const { take, mono, stereo } = await newTake();
    // More chunks than are read at once, with one that never came.
    for (let index = 0; index < READ_AT_ONCE + 3; index++) {
      await send(take, mono, index, samplesOf(1, index));
      if (index !== 4) await send(take, stereo, index, samplesOf(2, index));
    }
    await seal(take, null);
    const file = () => trackPackage(db.pool(), take);
    const all = Buffer.from(await rangedDownload(asking({}), await file()).arrayBuffer());
    const folder = mkdtempSync(join(tmpdir(), 'package-'));
    try {
      writeFileSync(join(folder, 'all.zip'), all);
      expect(execFileSync('unzip', ['-t', '-q', join(folder, 'all.zip')], { encoding: 'utf8' })).toContain('No errors detected');
      execFileSync('unzip', ['-q', join(folder, 'all.zip'), '-d', folder]);
      execFileSync('sha256sum', ['-c', '--quiet', 'checksums.sha256'], { cwd: folder });
      const { files, lengthSamples } = JSON.parse(readFileSync(join(folder, 'manifest.json'), 'utf8')) as { files: { file: string; channels: number }[]; lengthSamples: number };
      for (const { file: name, channels } of files) {
        const raw = execFileSync('sox', [join(folder, name), '-t', 'raw', '-e', 'float', '-b', '32', '-'], { maxBuffer: 2 ** 26 });
        expect(raw.length).toBe(4 * channels * lengthSamples);
        const missing = raw.subarray(4 * channels * 4 * CHUNK_FRAMES, 4 * channels * 5 * CHUNK_FRAMES);
        expect(missing.every((byte) => byte === 0)).toBe(channels === 2);
      }
    } finally {
      rmSync(folder, { recursive: true });
    }

    const { tag } = await file();
    const [from, to] = [all.length >> 1, all.length - 100];
    const rest = rangedDownload(asking({ range: `bytes=${from}-${to - 1}`, 'if-range': `"${tag}"` }), await file());
    expect(rest.status).toBe(206);
    expect(rest.headers.get('content-range')).toBe(`bytes ${from}-${to - 1}/${all.length}`);
    expect(Buffer.from(await rest.arrayBuffer()).equals(all.subarray(from, to))).toBe(true);
    await storeMarker(db.pool(), take, { id: crypto.randomUUID(), atSample: 48_000, lengthSamples: 0, name: 'Since then' });
    expect(rangedDownload(asking({ range: `bytes=${from}-`, 'if-range': `"${tag}"` }), await file()).status).toBe(200);
    expect(() => rangedDownload(asking({ range: 'bytes=999999999-' }), { name: '', mediaType: '', bytes: 10, tag: '', pieces: () => stretchOf((async function* () {})(), 0, 0) })).toThrow(/has 10 bytes/);
  });
});

describe('markers of a take', () => {
  const marker = (name: string, atSample: number) => ({ id: crypto.randomUUID(), atSample, lengthSamples: 0, name });

  it('are kept once, in the order of time, take another name, and never that of another take', async () => {
    const episode = await demoEpisode(db.pool());
    const begin = () => beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
    const [one, other] = [await begin(), await begin()];
    const [late, early] = [marker('Later', 96_000), marker('=1+1', 480)];
    for (const each of [late, early, { ...late, name: '-2+3+cmd|’ /C calc’!A0' }]) await storeMarker(db.pool(), one.take, each);
    await storeMarker(db.pool(), other.take, { ...late, name: 'Stolen' });
    expect((await listMarkers(db.pool(), one.take)).map(({ name }) => name)).toEqual(['=1+1', '-2+3+cmd|’ /C calc’!A0']);
    expect(await listMarkers(db.pool(), other.take)).toEqual([]);
    // A spreadsheet computes neither; a number is still a number.
    expect(markersAsCsv(await listMarkers(db.pool(), one.take)).split('\r\n').slice(1, 3)).toEqual(["0.010,0.000,'=1+1,480,0", "2.000,0.000,'-2+3+cmd|’ /C calc’!A0,96000,0"]);
  });
});
