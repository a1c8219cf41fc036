import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createJitterTarget } from './jitter-target';
import { directionReport, inboundCounters, roundTripMs } from './line-report';
import { lineAfter, newLine, type Line, type LineEvent } from './line-state';
import { askForOpus } from './opus-sdp';

const after = (line: Line, ...events: LineEvent[]) => events.reduce((now, event, k) => lineAfter(now, event, 1000 * (k + 1)), line);
const arrived: LineEvent[] = [
  { type: 'window', window: 'w' },
  { type: 'phase', phase: 'checking' },
  { type: 'phase', phase: 'ready' },
  { type: 'media', flowing: true },
];

describe('the state of a line', () => {
  it('follows a guest from the invitation to the show', () => {
    const states: string[] = [];
    let line = newLine(true, false, 0);
    states.push(line.state);
    for (const event of [...arrived, { type: 'admitted', admitted: true } as const]) states.push((line = lineAfter(line, event, 5)).state);
    expect(states).toEqual(['invited', 'opened', 'checking', 'waiting', 'waiting', 'live']);
  });

  it('says lost, back and live again after a loss, with the time in each', () => {
    const live = after(newLine(true, true, 0), ...arrived);
    const lost = lineAfter(live, { type: 'media', flowing: false }, 20_000);
    expect(lost).toMatchObject({ state: 'lost', sinceMs: 20_000 });
    const back = lineAfter(lost, { type: 'media', flowing: true }, 23_000);
    expect(back).toMatchObject({ state: 'back', sinceMs: 23_000 });
    expect(lineAfter(back, { type: 'tick' }, 32_000).state).toBe('back');
    expect(lineAfter(back, { type: 'tick' }, 33_000)).toMatchObject({ state: 'live', sinceMs: 33_000 });
  });

  it('tells a guest who left from one who was lost, and lets them come again', () => {
    const live = after(newLine(true, true, 0), ...arrived);
    expect(after(live, { type: 'phase', phase: 'left' }).state).toBe('left');
    expect(after(live, { type: 'phase', phase: 'left' }, { type: 'window', window: null }).state).toBe('left');
    expect(after(live, { type: 'phase', phase: 'left' }, { type: 'window', window: 'x' }).state).toBe('opened');
    expect(after(live, { type: 'window', window: null }, { type: 'media', flowing: false }).state).toBe('lost');
  });

  it('never calls anybody live who was not admitted, whatever happens in whatever order', () => {
    const event = fc.oneof(
      fc.record({ type: fc.constant('invitation' as const), invited: fc.boolean() }),
      fc.record({ type: fc.constant('window' as const), window: fc.constantFrom(null, 'a', 'b') }),
      fc.record({ type: fc.constant('phase' as const), phase: fc.constantFrom('opened' as const, 'checking' as const, 'ready' as const, 'left' as const) }),
      fc.record({ type: fc.constant('media' as const), flowing: fc.boolean() }),
      fc.record({ type: fc.constant('tick' as const) }),
    );
    fc.assert(
      fc.property(fc.array(event, { maxLength: 40 }), (events) => {
        let line = newLine(false, false, 0);
        events.forEach((one, k) => {
          const before = line;
          line = lineAfter(line, one, (k + 1) * 3000);
          expect(['live', 'back']).not.toContain(line.state);
          expect(line.sinceMs === before.sinceMs).toBe(line.state === before.state);
        });
      }),
    );
  });
});

describe('what Opus is asked for', () => {
  const sdp = 'v=0\r\nm=audio 9 UDP/TLS/RTP/SAVPF 111 63\r\na=rtpmap:111 opus/48000/2\r\na=fmtp:111 minptime=10;useinbandfec=1;usedtx=1\r\na=rtpmap:63 red/48000/2\r\n';

  it('keeps what the browser said and replaces what we want otherwise', () => {
    const line = askForOpus(sdp, { stereo: true, maxAverageBitrate: 128_000 }).split('\r\n').find((one) => one.startsWith('a=fmtp:111'))!;
    expect(line).toBe('a=fmtp:111 minptime=10;maxplaybackrate=48000;stereo=1;sprop-stereo=1;maxaveragebitrate=128000;usedtx=0;useinbandfec=1');
    expect(askForOpus(sdp.replace(/a=fmtp.*\r\n/, ''), { stereo: false, maxAverageBitrate: 96_000 })).toContain('a=fmtp:111 maxplaybackrate=48000;stereo=0');
  });

  it('leaves a description without Opus alone', () => expect(askForOpus('v=0\r\n', { stereo: true, maxAverageBitrate: 1 })).toBe('v=0\r\n'));
});

describe('a line’s report', () => {
  const inbound = (change: object) => ({
    type: 'inbound-rtp', kind: 'audio', timestamp: 10_000, packetsReceived: 500, packetsLost: 5, jitter: 0.004, bytesReceived: 120_000,
    jitterBufferDelay: 20_000, jitterBufferEmittedCount: 480_000, concealedSamples: 960, lastPacketReceivedTimestamp: 9_990, ...change,
  });
  it('is the difference of two readings', () => {
    const before = inboundCounters([{ type: 'codec' }, inbound({})])!;
    const now = inboundCounters([inbound({ timestamp: 11_000, packetsReceived: 548, packetsLost: 7, bytesReceived: 132_000, jitterBufferDelay: 21_920, jitterBufferEmittedCount: 528_000, concealedSamples: 2880 })])!;
    expect(directionReport(before, now, 30)).toEqual({ delayMs: 55, bufferMs: 40, lossShare: 0.04, jitterMs: 4, concealedMs: 40, kbps: 96 });
    expect(directionReport(now, before, 30)).toBeNull();
  });
  it('takes the round trip from the pair in use only', () => {
    const pair = { type: 'candidate-pair', state: 'succeeded', currentRoundTripTime: 0.02 };
    expect(roundTripMs([{ ...pair, nominated: false }])).toBeNull();
    expect(roundTripMs([{ ...pair, nominated: true }])).toBe(20);
  });
});

describe('the jitter buffer’s target', () => {
  /** A network that needs so many milliseconds: what is below is heard as made-up sound. */
  const run = (needs: (second: number) => number, seconds: number) => {
    const controller = createJitterTarget();
    let target = 0;
    let heard = 0;
    for (let s = 0; s < seconds; s++) {
      const concealed = Math.max(0, needs(s) - target);
      if (concealed > 10) heard++;
      target = controller.second(concealed);
    }
    return { target, heard };
  };
  it('stays at nothing on a clean network', () => expect(run(() => 0, 600)).toEqual({ target: 0, heard: 0 }));
  it('finds what a steady network needs, and seldom tries for less', () => {
    const { target, heard } = run(() => 75, 3600);
    expect(target).toBeGreaterThanOrEqual(65);
    expect(target).toBeLessThanOrEqual(100);
    expect(heard).toBeLessThan(15);
  });
  it('comes down after a bad minute', () => expect(run((s) => (s < 60 ? 150 : 0), 900).target).toBe(0));
});
