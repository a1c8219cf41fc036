import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createChunker } from './chunker';
import { CHUNK_FRAMES } from './chunks';
import { createJournalBatch, readJournal, recordBytes, SEGMENT_FRAMES, segmentOf } from './journal';

const BLOCK = 128;

describe('the journal', () => {
  it('gives back what was written, up to where a crash cut it off', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 1, max: 60 }), fc.nat({ max: 400_000 }), (channels, records, cut) => {
        const batch = createJournalBatch(channels, BLOCK, records);
        const blocks = Array.from({ length: records }, (_, k) => Float32Array.from({ length: channels * BLOCK }, (_, i) => Math.fround((k * 1000 + i) / 1e5)));
        blocks.forEach((block, k) => batch.add(1e9 + k * BLOCK, block));
        const written = batch.take().slice();
        expect(batch.take()).toHaveLength(0);
        const kept = written.subarray(0, Math.min(cut, written.length)).slice();
        const read: number[] = [];
        readJournal(kept.buffer, channels, BLOCK, (position, block) => {
          expect(block).toEqual(blocks[read.length]);
          read.push(position);
        });
        expect(read).toEqual(Array.from({ length: Math.floor(kept.length / recordBytes(channels, BLOCK)) }, (_, k) => 1e9 + k * BLOCK));
      }),
    );
  });

  it('replayed from a later segment makes the same chunks at the same places', () => {
    const clock = 7 * BLOCK;
    const frames = 2 * SEGMENT_FRAMES + 50 * BLOCK;
    const chunks = (from: number) => {
      const made = new Map<number, Float32Array>();
      const chunker = createChunker([1], (_, index, [samples], count) => made.set(index, samples.slice(0, count)), from === 0 ? undefined : { clockAtStart: clock, index: (segmentOf(from) * SEGMENT_FRAMES) / CHUNK_FRAMES });
      const block = new Float32Array(BLOCK);
      for (let at = from; at < frames; at += BLOCK) {
        for (let i = 0; i < BLOCK; i++) block[i] = Math.sin(at + i);
        // A block that never came.
        if (at !== 1_000_064) chunker.push(clock + at, block, BLOCK);
      }
      return { made, length: chunker.finish(), losses: chunker.losses() };
    };
    const whole = chunks(0);
    const rest = chunks(SEGMENT_FRAMES);
    expect(rest.length).toBe(whole.length);
    expect(rest.losses).toEqual(whole.losses);
    expect([...rest.made.keys()]).toEqual([...whole.made.keys()].slice(SEGMENT_FRAMES / CHUNK_FRAMES));
    for (const [index, samples] of rest.made) expect(samples).toEqual(whole.made.get(index));
  });
});
