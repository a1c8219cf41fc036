import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lateMs, PieceQueue, type Piece } from './piece-queue';

const PACKET = 1152;
const PACKET_MS = PACKET / 48;
/** Whoever gets no answer for so long tries again. */
const GIVEN_UP_MS = 10_000;

/** A stream that comes in real time and a server whose answers take so long each, ms; what arrived, in order. */
function stream(answerMs: (request: number) => number, seconds: number) {
  const queue = new PieceQueue(PACKET, 3);
  const arrived: { from: number; samples: number; packets: number; lateMs: number; number: number }[] = [];
  let heard = 0;
  let requests = 0;
  let way: { piece: Piece; answerMs: number; atMs: number } | null = null;
  for (let nowMs = 0; nowMs < seconds * 1000; nowMs += PACKET_MS) {
    queue.push([Uint8Array.of(1, 2)], heard);
    heard += PACKET;
    queue.forgetOld(heard);
    if (way && nowMs >= way.atMs) {
      const { piece } = way;
      if (way.answerMs >= GIVEN_UP_MS) queue.failed(heard);
      else {
        arrived.push({ from: piece.from, samples: piece.samples, packets: piece.packets.length, lateMs: lateMs(piece, heard), number: piece.number });
        queue.sent();
      }
      way = null;
    }
    const next: Piece | null = way ? null : queue.next();
    if (next) {
      const takes = Math.min(GIVEN_UP_MS, answerMs(requests++));
      way = { piece: next, answerMs: takes, atMs: nowMs + takes };
    }
  }
  return { arrived, requests, ...queue.facts };
}

describe('what waits to go on the air', () => {
  it('goes piece by piece on a quick way', () => {
    const { arrived, droppedMs } = stream(() => 40, 60);
    expect([arrived.length, droppedMs]).toEqual([expect.closeTo(119, -1), 0]);
    expect(Math.max(...arrived.map((one) => one.lateMs))).toBeLessThan(100);
  });

  it('loses nothing though every answer takes two seconds, and is not later than it must be', () => {
    const { arrived, droppedMs, requests } = stream(() => 2000, 120);
    expect(droppedMs).toBe(0);
    expect(requests).toBeLessThan(65);
    expect(Math.max(...arrived.map((one) => one.lateMs))).toBeLessThan(2100);
  });

  it('knows after a gap where its sound belongs: nothing of it is taken for old', () => {
    const queue = new PieceQueue(PACKET, 0);
    const packets = (count: number) => Array.from({ length: count }, () => Uint8Array.of(1));
    queue.push(packets(5), 0);
    queue.push(packets(42), 480_000);
    queue.forgetOld(480_000 + 42 * PACKET);
    const sent = [queue.next()!];
    queue.sent();
    for (let piece = queue.next(); piece; piece = queue.next()) {
      sent.push(piece);
      queue.sent();
    }
    expect(sent.map(({ from, samples }) => [from, samples])).toEqual([[480_000, 42 * PACKET]]);
    expect(queue.facts).toEqual({ waitingMs: 0, droppedMs: 5 * PACKET_MS });
  });

  it('is complete, in order and by whole packets whatever the way does; what got too old is left out and counted', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 0, max: 12_000 })), { minLength: 5, maxLength: 40 }), (answers) => {
        const { arrived, droppedMs, waitingMs } = stream((request) => answers[request % answers.length], 90);
        let [until, came] = [0, 0];
        for (const { from, samples, packets, number } of arrived) {
          expect(from).toBeGreaterThanOrEqual(until);
          expect(packets * PACKET).toBe(samples);
          expect(number).toBeGreaterThanOrEqual(3);
          came += samples;
          until = from + samples;
        }
        const all = Math.ceil(90_000 / PACKET_MS) * PACKET;
        expect(Math.abs(came + 48 * (waitingMs + droppedMs) - all)).toBeLessThan(PACKET);
        expect(new Set(arrived.map(({ number }) => number)).size).toBe(arrived.length);
      }),
      { numRuns: 60 },
    );
  });
});
