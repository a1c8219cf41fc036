import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { createHomePace } from './home-pace';

const CHUNK_BYTES = 36_000;
const PACKET_BYTES = 1_200;
const VOICE_BYTES = 200;
const TRAVEL_MS = 30;
/** What the line's queue holds before it drops. */
const QUEUE_MS = 250;

interface Upload {
  rate(): number;
  report?(lossShare: number, roundTripMs: number): void;
}

/**
 * Voice packets every 20 ms and chunks over TCP share one narrow way out with a queue that drops what does not fit.
 * A chunk's packets go out in rounds, ten and then twice as many as long as none is lost (RFC 6928, RFC 5681).
 */
function simulateUplink(kbps: number, seconds: number, upload: Upload | null) {
  const random = createRandom(5);
  const bytesPerMs = kbps / 8;
  let queue = 0;
  let voice = { sent: 0, lost: 0 };
  const total = { sent: 0, lost: 0, late: 0 };
  let uploaded = 0;
  let chunk = 0;
  let nextChunkAt = 0;
  let window = 10;
  let nextRoundAt = 0;
  const enters = (bytes: number) => {
    if (queue + bytes > QUEUE_MS * bytesPerMs) return false;
    queue += bytes;
    return true;
  };
  for (let ms = 0; ms < seconds * 1000; ms++) {
    queue = Math.max(0, queue - bytesPerMs);
    if (ms % 20 === 0) {
      const lost = !enters(VOICE_BYTES) || random.next() < 0.002;
      voice.sent++;
      if (lost) voice.lost++;
      if (queue / bytesPerMs > 80) total.late++;
    }
    if (upload && chunk === 0 && ms >= nextChunkAt) {
      chunk = CHUNK_BYTES;
      window = 10;
      nextRoundAt = ms;
      nextChunkAt = ms + (1000 * CHUNK_BYTES) / upload.rate();
    }
    if (chunk > 0 && ms >= nextRoundAt) {
      let dropped = false;
      for (let k = 0; k < window && chunk > 0; k++) {
        if (!enters(PACKET_BYTES)) {
          dropped = true;
          break;
        }
        chunk = Math.max(0, chunk - PACKET_BYTES);
        uploaded += PACKET_BYTES;
      }
      window = dropped ? Math.max(1, window >> 1) : window * 2;
      nextRoundAt = ms + 2 * TRAVEL_MS + queue / bytesPerMs;
    }
    if (ms % 1000 === 999) {
      upload?.report?.(voice.lost / voice.sent, 2 * TRAVEL_MS + queue / bytesPerMs);
      total.sent += voice.sent;
      total.lost += voice.lost;
      voice = { sent: 0, lost: 0 };
    }
  }
  return { lossShare: total.lost / total.sent, lateShare: total.late / total.sent, bytesPerSecond: uploaded / seconds };
}

const paced = (): Upload => {
  const pace = createHomePace();
  return { rate: pace.rate, report: (lossShare, roundTripMs) => pace.report({ lossShare, roundTripMs }) };
};

describe('the pace of a recording that is sent beside a call', () => {
  it.each([256, 512, 1000])('leaves the voice its room on %i kbit/s', (kbps) => {
    const alone = simulateUplink(kbps, 300, null);
    const beside = simulateUplink(kbps, 300, paced());
    const greedy = simulateUplink(kbps, 300, { rate: () => Infinity });
    expect(beside.bytesPerSecond).toBeGreaterThan(1000);
    expect(beside.lossShare - alone.lossShare).toBeLessThan(0.002);
    expect(beside.lateShare).toBeLessThan(0.12);
    // What it would be otherwise: the test measures something.
    expect(greedy.lateShare).toBeGreaterThan(0.3);
  });

  it('keeps up with the microphone where there is room, and knows no limit when nobody talks', () => {
    expect(simulateUplink(20_000, 120, paced()).bytesPerSecond).toBeGreaterThan(144_000);
    const pace = createHomePace();
    pace.inCall(false);
    expect(pace.rate()).toBe(Infinity);
  });
});
