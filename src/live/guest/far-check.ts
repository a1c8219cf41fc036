import type { StoreApi } from 'zustand/vanilla';
import { askSchema, checkForGuestSchema, testCallSchema, wishSchema, type CheckAhead, type Wish } from '@/core/lines/check-messages';
import { STAGES } from '@/core/linecheck/schedule';
import { streamSource, type StreamSource } from '../stream-source';
import type { FarEndJudged, JudgeFarEnd } from './far-check-messages';
import type { GuestState } from './guest-state';
import { joined, type Packet } from './packets';

const RATE = 48_000;
/** A page that hears nothing of the end of a check gives it up. */
const PATIENCE_MS = 20_000;

export interface FarCheckOptions {
  store: StoreApi<GuestState>;
  /** What the loudspeakers or headphones are given. */
  played(): MediaStream | null;
  microphone(): MediaStreamTrack | null;
  say(what: object): void;
  /** The host wishes that nothing comes back from here. */
  onWish(wish: Wish): void;
}

/** Both ends of a guest's sound, listened to while the desk checks. */
interface Ears {
  context: AudioContext;
  sources: StreamSource[];
  played: Packet[];
  microphone: Packet[];
}

/** The guest's part in a line check: shows that it is on, listens to what arrives, and says what of it did. */
export class FarCheck {
  readonly #options: FarCheckOptions;
  #check: CheckAhead | null = null;
  #ears: Ears | null = null;
  #beganAt: { sources?: number; listeners?: number } = {};
  #giveUp: ReturnType<typeof setTimeout> | undefined;

  constructor(options: FarCheckOptions) {
    this.#options = options;
  }

  /** Something the desk said; what is not of a check is left alone. */
  hear(said: unknown): void {
    const ask = askSchema.safeParse(said);
    if (ask.success) return this.#options.store.setState({ ask: ask.data });
    const wish = wishSchema.safeParse(said);
    if (wish.success) return this.#options.onWish(wish.data);
    const testCall = testCallSchema.safeParse(said);
    if (testCall.success) return this.#options.store.setState({ wholeLine: testCall.data.state === 'begun' ? { beganAt: performance.now() } : 'not-now' });
    const message = checkForGuestSchema.safeParse(said);
    if (!message.success) return;
    const { data } = message;
    if (data.type === 'check') return void this.#begin(data);
    if (data.number !== this.#check?.number) return;
    if (data.type === 'check-over') return data.brokenOff ? this.end() : this.#judge();
    if (data.stage !== 'again') this.#beganAt[data.stage] = this.#ears?.context.currentTime;
  }

  /** The line is gone, or the check is. */
  end(): void {
    clearTimeout(this.#giveUp);
    for (const { stop } of this.#ears?.sources ?? []) stop();
    void this.#ears?.context.close();
    this.#ears = this.#check = null;
    this.#options.store.setState({ check: null });
  }

  async #begin(check: CheckAhead): Promise<void> {
    this.end();
    const { store, played, microphone } = this.#options;
    this.#check = check;
    this.#beganAt = {};
    const beginsAt = performance.now() + check.inMs;
    store.setState({ check: { beginsAt, endsAt: beginsAt + 1000 * check.seconds } });
    this.#giveUp = setTimeout(() => this.end(), check.inMs + 1000 * check.seconds + PATIENCE_MS);
    const stream = played();
    if (!stream) return;
    const ears: Ears = { context: new AudioContext({ sampleRate: RATE, latencyHint: 'playback' }), sources: [], played: [], microphone: [] };
    this.#ears = ears;
    const track = microphone();
    await ears.context.resume();
    await ears.context.audioWorklet.addModule(new URL('../generated/capture.worklet.js', import.meta.url));
    if (this.#ears !== ears) return;
    ears.sources.push(listen(ears.context, stream, ears.played));
    if (track) ears.sources.push(listen(ears.context, new MediaStream([track]), ears.microphone));
  }

  #judge(): void {
    const check = this.#check;
    const ears = this.#ears;
    const { sources, listeners } = this.#beganAt;
    // A page whose sound is stopped has heard nothing, which says nothing of the line.
    if (!check || !ears || ears.played.length === 0 || sources === undefined || listeners === undefined) return this.end();
    const part = (packets: readonly Packet[], from: number, { leadIn, judged }: { leadIn: number; judged: number }): Float32Array<ArrayBuffer> => joined(packets, Math.round(from * RATE) + leadIn).slice(0, judged);
    const job: JudgeFarEnd = {
      check,
      sources: part(ears.played, sources, STAGES.sources),
      listeners: part(ears.played, listeners, STAGES.listeners),
      microphone: ears.microphone.length === 0 ? new Float32Array(0) : part(ears.microphone, listeners, STAGES.listeners),
    };
    this.end();
    const worker = new Worker(new URL('./far-check.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FarEndJudged>) => {
      this.#options.say(data);
      worker.terminate();
    };
    worker.onerror = () => worker.terminate();
    worker.postMessage(job, [job.sources.buffer, job.listeners.buffer, job.microphone.buffer]);
  }
}

function listen(context: AudioContext, stream: MediaStream, into: Packet[]): StreamSource {
  const node = new AudioWorkletNode(context, 'capture-processor', { numberOfOutputs: 0, channelCount: 1, channelCountMode: 'explicit' });
  node.port.onmessage = ({ data }: MessageEvent<Packet>) => into.push(data);
  const source = streamSource(context, stream);
  source.node.connect(node);
  return source;
}

