import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DESK_GONE_AFTER_MS, MOST_LATE_MS, OutgoingStream, SILENCE_AFTER_MS } from './outgoing';

const PACKET = 960;
const PACKET_MS = 20;
/** A piece of half a second whose packets say which they are. */
const piece = (number: number, atMs: number, lateMs = 0) => ({
  number, session: 1, from: number * 25 * PACKET, samples: 25 * PACKET, lateMs, atMs,
  packets: Array.from({ length: 25 }, (_, k) => Uint8Array.of(Math.floor((number * 25 + k) / 256), (number * 25 + k) % 256)),
});
const numberOf = ([high, low]: Uint8Array): number => 256 * high + low;

describe('what is sent to the air', () => {
  it('passes everything in order, with titles at their samples', () => {
    const stream = new OutgoingStream(PACKET, 0);
    stream.connected(0);
    stream.say({ id: '1', text: 'First', session: 1, sample: 0 });
    stream.push(piece(0, 500));
    expect(stream.take(500).map(({ of }) => of)).toEqual(['title', 'sound']);
    // In the middle of a piece, and one of an audio thread that is no more.
    stream.say({ id: '2', text: 'Second', session: 1, sample: 30 * PACKET });
    stream.say({ id: '3', text: 'Third', session: 9, sample: 1e9 });
    stream.push(piece(1, 1000));
    const out = stream.take(1000);
    expect(out.map(({ of }) => of)).toEqual(['sound', 'title', 'title', 'sound']);
    expect(out.flatMap((one) => (one.of === 'sound' ? one.packets.map(numberOf) : []))).toEqual(Array.from({ length: 25 }, (_, k) => 25 + k));
    expect(stream.facts).toMatchObject({ sent: { session: 1, sample: 50 * PACKET }, bufferedMs: 0, droppedMs: 0, silenceMs: 0 });
  });

  it('keeps the last seconds for a server that is lost, and drops what is older', () => {
    const stream = new OutgoingStream(PACKET, 0);
    stream.connected(0);
    stream.lost();
    for (let n = 0; n < 40; n++) stream.push(piece(n, 500 * (n + 1)));
    expect(stream.take(20_000)).toEqual([]);
    stream.connected(20_100);
    const [{ of, ...sent }] = stream.take(20_100);
    expect(of).toBe('sound');
    const numbers = 'packets' in sent && Array.isArray(sent.packets) ? sent.packets.map(numberOf) : [];
    expect(numbers.at(-1)).toBe(999);
    expect(numbers.length * PACKET_MS).toBeGreaterThan(MOST_LATE_MS - 200);
    expect(numbers.length * PACKET_MS).toBeLessThanOrEqual(MOST_LATE_MS);
    expect(stream.facts.droppedMs).toBe((1000 - numbers.length) * PACKET_MS);
  });

  it('sends silence while the desk is away, as long as that lasts and no longer', () => {
    const stream = new OutgoingStream(PACKET, 0);
    stream.connected(0);
    stream.push(piece(0, 500));
    stream.take(500);
    expect(stream.take(500 + SILENCE_AFTER_MS - 1)).toEqual([]);
    let silent = 0;
    for (let now = 2200; now <= 10_500; now += 100) for (const one of stream.take(now)) silent += one.of === 'silence' ? one.packets * PACKET_MS : 0;
    expect(silent).toBe(10_000);
    expect(stream.quietMs(500 + DESK_GONE_AFTER_MS)).toBe(DESK_GONE_AFTER_MS);
    stream.push({ ...piece(1, 10_600), session: 2 });
    expect(stream.take(10_600).map(({ of }) => of)).toEqual(['sound']);
    expect(stream.facts.sent?.session).toBe(2);
  });

  it('however desk and server come and go: in order, never old, never far ahead, nothing twice', () => {
    const step = fc.oneof(
      { weight: 8, arbitrary: fc.record({ of: fc.constant('piece' as const), afterMs: fc.integer({ min: 0, max: 1500 }), lateMs: fc.integer({ min: 0, max: 9000 }) }) },
      fc.record({ of: fc.constant('lost' as const), afterMs: fc.integer({ min: 0, max: 12_000 }), lateMs: fc.constant(0) }),
      fc.record({ of: fc.constant('connected' as const), afterMs: fc.integer({ min: 0, max: 12_000 }), lateMs: fc.constant(0) }),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
        const stream = new OutgoingStream(PACKET, 0);
        let [now, number, last, dropped, sent] = [0, 0, -1, 0, 0];
        let since: number | null = null;
        let sentSince = 0;
        const heard: number[] = [];
        for (const { of, afterMs, lateMs } of steps) {
          now += afterMs;
          if (of === 'lost') {
            stream.lost();
            since = null;
          } else if (of === 'connected') {
            stream.connected(now);
            since = now;
            sentSince = 0;
          } else {
            for (let k = 0; k < 25; k++) heard.push(now - lateMs - (24 - k) * PACKET_MS);
            stream.push(piece(number++, now, lateMs));
          }
          for (const one of stream.take(now)) {
            expect(since).not.toBeNull();
            if (one.of === 'silence') sentSince += one.packets * PACKET_MS;
            if (one.of !== 'sound') continue;
            for (const packet of one.packets) {
              const k = numberOf(packet);
              expect(k).toBeGreaterThan(last);
              expect(now - heard[k]).toBeLessThanOrEqual(MOST_LATE_MS + 1e-6);
              last = k;
              sent++;
              sentSince += PACKET_MS;
            }
          }
          if (since !== null) expect(sentSince).toBeLessThanOrEqual(now - since + 6000);
        }
        dropped = stream.facts.droppedMs / PACKET_MS;
        expect(sent + dropped + stream.facts.bufferedMs / PACKET_MS).toBe(25 * number);
      }),
    );
  });
});
