import { phonesOf, returnOf, voiceOf } from '@/core/hearing/ids';
import { TEST_CALL, TEST_CALL_CAPTURE, type HeardBy } from '@/core/session/play-back';
import type { Tap } from '@/core/session/captures';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { Own, TestCallSlice } from '../desk/desk-state';
import type { DeskLines } from '../lines/desk-lines';

export interface TestCallsOptions {
  store: Own<TestCallSlice>;
  /** The audio thread; null while no call runs. */
  audio(): AudioDesk | null;
  lines: DeskLines;
  plan: DeskPlan;
}

/**
 * Test calls: what somebody is sent, or says, is recorded for a few seconds after a tone and then played back. One at a time;
 * a line check comes before them.
 */
export class TestCalls {
  readonly #options: TestCallsOptions;
  #end: (() => void) | null = null;

  constructor(options: TestCallsOptions) {
    this.#options = options;
  }

  /** What a caller is sent, exactly: by a practice line it is played back into the call, otherwise in the host's phones alone. */
  async hearWhat(seat: string): Promise<void> {
    const { seats, check, testCall } = this.#options.store.getState();
    if (check || testCall) return;
    const { sourceIds, listenerIds } = this.#options.plan.compiled();
    const practises = seats.some(({ id, line, practice }) => id === seat && line === 'practice' && practice);
    const host = seats.find(({ role }) => role === 'host')?.id ?? '';
    const heardBy: HeardBy = practises ? { of: 'source', slot: sourceIds.indexOf(voiceOf(seat)) } : { of: 'listener', slot: listenerIds.indexOf(phonesOf(host)) };
    await this.#run({ seat, whose: 'host', intoTheCall: practises }, { of: 'listener', slot: listenerIds.indexOf(returnOf(seat)), channels: 2 }, heardBy);
  }

  /** A guest who waits hears their own voice after the whole way there and back. */
  async hearThemselves(seat: string): Promise<void> {
    const { lines, store, plan } = this.#options;
    const { check, testCall, lines: states } = store.getState();
    const { sourceIds, listenerIds } = plan.compiled();
    const slots = { source: sourceIds.indexOf(voiceOf(seat)), listener: listenerIds.indexOf(returnOf(seat)) };
    const busy = check !== null || testCall !== null || !this.#options.audio();
    if (busy || states[seat]?.state !== 'waiting' || slots.source < 0 || slots.listener < 0) return void lines.check(seat, { type: 'test-call', state: 'not-now' });
    await this.#run({ seat, whose: 'guest', intoTheCall: false }, { of: 'source', slot: slots.source, channels: 2 }, { of: 'listener', slot: slots.listener });
  }

  /** Ends one at once. */
  stop(): void {
    this.#end?.();
  }

  async #run(call: { seat: string; whose: 'host' | 'guest'; intoTheCall: boolean }, tap: Tap, heardBy: HeardBy): Promise<void> {
    const { store, lines } = this.#options;
    const audio = this.#options.audio();
    if (!audio) return;
    const brokenOff = new Promise<void>((resolve) => {
      this.#end = () => {
        // At once: whoever needs the probes begins with them in the same moment.
        audio.tell({ type: 'stop-probes' });
        if (call.whose === 'guest') lines.check(call.seat, { type: 'test-call', state: 'not-now' });
        resolve();
      };
    });
    store.setState({ testCall: { ...call, beganAt: performance.now() } });
    const over = audio.playBack(tap, heardBy).then(() => new Promise<void>((resolve) => setTimeout(resolve, 1000 * TEST_CALL.playUntil)));
    if (call.whose === 'guest') lines.check(call.seat, { type: 'test-call', state: 'begun' });
    await Promise.race([brokenOff, over]);
    audio.tell({ type: 'capture', name: TEST_CALL_CAPTURE, ring: null });
    this.#end = null;
    store.setState({ testCall: null });
  }
}
