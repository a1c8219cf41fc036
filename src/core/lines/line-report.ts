import { z } from '../zod';

/** What one direction of a line was like over about a second. */
export interface DirectionReport {
  /** From microphone packet to the receiver's output: half the round trip and the jitter buffer, ms. */
  delayMs: number | null;
  /** Part of it spent in the receiver's jitter buffer, ms. */
  bufferMs: number | null;
  /** Share of packets lost, 0 to 1. */
  lossShare: number;
  /** Interarrival jitter (RFC 3550, 6.4.1), ms. */
  jitterMs: number;
  /** Sound the receiver had to make up, ms. */
  concealedMs: number;
  kbps: number;
}

/** What came back of what was sent by a line, as the echo watch had it then. */
export interface EchoReport {
  delayMs: number;
  /** dB; null while that was not known. */
  levelDb: number | null;
  /** It was taken out of the mixes; the track kept it. */
  cancelled: boolean;
}

export interface LineReport {
  roundTripMs: number | null;
  toDesk: DirectionReport | null;
  toGuest: DirectionReport | null;
  /** Absent where nothing came back. */
  echo?: EchoReport;
}

const measure = z.number().min(-1).max(1e7);
export const directionReportSchema: z.ZodType<DirectionReport> = z.object({
  delayMs: measure.nullable(),
  bufferMs: measure.nullable(),
  lossShare: z.number().min(0).max(1),
  jitterMs: measure,
  concealedMs: measure,
  kbps: measure,
});
export const lineReportSchema: z.ZodType<LineReport> = z.object({
  roundTripMs: measure.nullable(),
  toDesk: directionReportSchema.nullable(),
  toGuest: directionReportSchema.nullable(),
  echo: z.object({ delayMs: measure, levelDb: z.number().min(-120).max(40).nullable(), cancelled: z.boolean() }).optional(),
});

/** Counters of a received stream, as WebRTC's statistics have them (W3C webrtc-stats, `inbound-rtp`). */
export interface InboundCounters {
  /** ms */
  at: number;
  packets: number;
  lost: number;
  jitterSeconds: number;
  bytes: number;
  /** Seconds all emitted samples together spent in the jitter buffer. */
  bufferSeconds: number;
  emittedSamples: number;
  concealedSamples: number;
  /** When the newest packet came, ms; 0 before the first. */
  lastPacketAt: number;
}

type Stat = Record<string, unknown>;
const count = (stat: Stat, name: string): number => (typeof stat[name] === 'number' ? (stat[name] as number) : 0);

/** The audio stream a peer connection receives, or null before it has one. */
export function inboundCounters(stats: Iterable<Stat>): InboundCounters | null {
  for (const stat of stats) {
    if (stat.type !== 'inbound-rtp' || stat.kind !== 'audio') continue;
    return {
      at: count(stat, 'timestamp'),
      packets: count(stat, 'packetsReceived'),
      lost: count(stat, 'packetsLost'),
      jitterSeconds: count(stat, 'jitter'),
      bytes: count(stat, 'bytesReceived'),
      bufferSeconds: count(stat, 'jitterBufferDelay'),
      emittedSamples: count(stat, 'jitterBufferEmittedCount'),
      concealedSamples: count(stat, 'concealedSamples'),
      lastPacketAt: count(stat, 'lastPacketReceivedTimestamp'),
    };
  }
  return null;
}

/** Share of the voice's packets lost on the way to the other end over the last while, as that end reports it (RTCP; RFC 3550, 6.4.1); null before it did. */
export function lossOnTheWay(stats: Iterable<Stat>): number | null {
  for (const stat of stats) {
    if (stat.type === 'remote-inbound-rtp' && stat.kind === 'audio' && typeof stat.fractionLost === 'number') return stat.fractionLost;
  }
  return null;
}

/** Round trip of the candidate pair in use, ms; null while none was measured. */
export function roundTripMs(stats: Iterable<Stat>): number | null {
  for (const stat of stats) {
    const inUse = stat.type === 'candidate-pair' && stat.nominated === true && stat.state === 'succeeded';
    if (inUse && typeof stat.currentRoundTripTime === 'number') return stat.currentRoundTripTime * 1000;
  }
  return null;
}

/** One direction between two readings of the same stream, or null when they are not that. */
export function directionReport(before: InboundCounters, after: InboundCounters, roundTrip: number | null): DirectionReport | null {
  const milliseconds = after.at - before.at;
  const received = after.packets - before.packets;
  if (milliseconds <= 0 || received < 0) return null;
  const lost = Math.max(0, after.lost - before.lost);
  const emitted = after.emittedSamples - before.emittedSamples;
  const bufferMs = emitted > 0 ? (1000 * (after.bufferSeconds - before.bufferSeconds)) / emitted : null;
  return {
    delayMs: bufferMs === null || roundTrip === null ? null : bufferMs + roundTrip / 2,
    bufferMs,
    lossShare: received + lost === 0 ? 0 : lost / (received + lost),
    jitterMs: after.jitterSeconds * 1000,
    concealedMs: Math.max(0, after.concealedSamples - before.concealedSamples) / 48,
    kbps: (8 * (after.bytes - before.bytes)) / milliseconds,
  };
}
