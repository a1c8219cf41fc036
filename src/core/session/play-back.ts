import { dbToGain } from '../dsp/decibels';
import type { Probe } from '../engine/probes';
import type { BlockSink } from './captures';

/** A test call in seconds from its beginning: a tone, so long to speak, two short tones, and what was recorded. */
export const TEST_CALL = { speakFrom: 0.5, speakUntil: 6.5, playFrom: 7.2, playUntil: 13.2 } as const;
/** Name of its capture. */
export const TEST_CALL_CAPTURE = 'test call';
const TONE = { hz: 600, level: dbToGain(-30), fadeSeconds: 0.01, at: [{ from: 0.05, until: 0.4 }, { from: 6.6, until: 6.72 }, { from: 6.85, until: 6.97 }] } as const;

/** Where a test call is heard. */
export type HeardBy = Pick<Probe, 'of' | 'slot'>;

/** What one listener is given, or one source brings, for a while: recorded and then given to somebody. */
export interface PlayBack {
  readonly probe: Probe;
  /** How long it lasts in all. */
  readonly samples: number;
  /** Records both sides of one tap, put together; the tap has two channels. */
  readonly sink: BlockSink;
}

/**
 * The whole is one probe, and what is recorded is written where it will be played: to the engine nothing begins or ends
 * in between.
 * @param begins clock of the probe's first sample
 * @param block samples of one side that the sink is given at a time
 */
export function createPlayBack(heardBy: HeardBy, begins: number, block: number, sampleRate: number): PlayBack {
  const at = (seconds: number): number => Math.round(seconds * sampleRate);
  const period = new Float32Array(at(TEST_CALL.playUntil));
  for (const { from, until } of TONE.at) addTone(period, at(from), at(until), sampleRate);
  const room = new Float32Array(2 * block);
  const [speakFrom, speakUntil, later] = [at(TEST_CALL.speakFrom), at(TEST_CALL.speakUntil), at(TEST_CALL.playFrom) - at(TEST_CALL.speakFrom)];
  return {
    probe: { ...heardBy, period },
    samples: period.length,
    sink: {
      next: () => room,
      commit(position) {
        const from = position - begins;
        for (let i = 0; i < block; i++) {
          const place = from + i;
          if (place >= speakFrom && place < speakUntil) period[place + later] = 0.5 * (room[i] + room[block + i]);
        }
      },
      close: () => undefined,
    },
  };
}

function addTone(into: Float32Array, from: number, until: number, sampleRate: number): void {
  const fade = TONE.fadeSeconds * sampleRate;
  for (let i = from; i < until; i++) into[i] = TONE.level * Math.min(1, (i - from) / fade, (until - i) / fade) * Math.sin((2 * Math.PI * TONE.hz * (i - from)) / sampleRate);
}

export type TestCallPhase = 'tone' | 'speak' | 'turn' | 'play' | 'over';

/** Where a test call is so many seconds after its beginning, and how many seconds later that changes (never: Infinity). */
export function testCallPhase(seconds: number): { phase: TestCallPhase; left: number } {
  const { speakFrom, speakUntil, playFrom, playUntil } = TEST_CALL;
  const ends: [TestCallPhase, number][] = [['tone', speakFrom], ['speak', speakUntil], ['turn', playFrom], ['play', playUntil]];
  const now = ends.find(([, until]) => seconds < until);
  return now ? { phase: now[0], left: now[1] - seconds } : { phase: 'over', left: Infinity };
}
