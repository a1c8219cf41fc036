import type { StoreApi } from 'zustand/vanilla';
import { createHomePace, type UplinkReport } from '@/core/lines/home-pace';
import { SAMPLE_RATE } from '@/core/takes/chunks';
import { mayPass, sendJson, ServerError } from '../api';
import { pause } from '../pause';
import { getRunning } from '../running-sound';
import { closeRing, ringBytes } from '../recorder/ring';
import { streamSource, type StreamSource } from '../stream-source';
import type { FromHomeRecorder, HomeTarget, ToHomeRecorder } from '../recorder/home-messages';
import { keptTakes } from '../recorder/read-kept';
import type { GuestState } from './guest-state';

/** A server that could not be reached as a take began is asked again this much later, and later each time. */
const AGAIN_MS = 3000;
const LONGEST_AGAIN_MS = 24_000;

/** One recording on its way. */
interface Running {
  worker: Worker;
  captured: number;
  kept: number | null;
  sent: number;
  waiting: string | null;
}

export interface HomeRecorderOptions {
  store: StoreApi<GuestState>;
  headers: Record<string, string>;
}

/**
 * Records the guest's own microphone without loss while their line is on a take, and sends it at a pace that leaves the
 * conversation its room. What a reload or a crash left here goes on being sent when the page comes back.
 */
export class HomeRecorder {
  readonly #options: HomeRecorderOptions;
  readonly #pace = createHomePace();
  readonly #running = new Map<string, Running>();
  #context: AudioContext | null = null;
  #loaded: Promise<void> | null = null;
  #source: StreamSource | null = null;
  #stream: MediaStream | null = null;
  #node: AudioWorkletNode | null = null;
  #take: string | null = null;
  /** Counts takes and lines that came and went: what was begun for an earlier one must not go on. */
  #turn = 0;
  /** A recording whose recorder is being started. */
  #next: { home: string; ring: SharedArrayBuffer } | null = null;
  /** What is being captured now. */
  #home: string | null = null;
  #ever = false;
  /** The turn that is being started; 0 for none. */
  #starting = 0;

  constructor(options: HomeRecorderOptions) {
    this.#options = options;
  }

  /** Takes up what an earlier page left on this browser's disk. */
  async takeUp(): Promise<void> {
    for (const home of await keptTakes('home').catch(() => [])) {
      if (!this.#running.has(home)) this.#run(home).postMessage({ type: 'recover', home } satisfies ToHomeRecorder);
    }
  }

  /** Records from this microphone from now on. */
  follow(stream: MediaStream | null): void {
    this.#stream = stream;
    this.#connect();
  }

  /** The take the guest's line is on; null for none. */
  async onTake(take: string | null): Promise<void> {
    if (take === this.#take) return;
    this.#take = take;
    this.#turn++;
    // One that is only being begun ends with nothing.
    if (this.#next) closeRing(this.#next.ring);
    this.#next = null;
    this.#stop();
    if (take === null) return;
    await this.#start(take);
  }

  async #start(take: string): Promise<void> {
    const turn = (this.#starting = this.#turn);
    for (let wait = AGAIN_MS; turn === this.#turn && !(await this.#tryToBegin(take, turn)); wait = Math.min(2 * wait, LONGEST_AGAIN_MS)) await pause(wait);
    if (this.#starting === turn) this.#starting = 0;
  }

  /** False where it is worth another try: a server that is away for a moment must not cost the whole take. */
  async #tryToBegin(take: string, turn: number): Promise<boolean> {
    try {
      await this.#begin(take, turn);
      if (turn === this.#turn) this.#say(null);
      return true;
    } catch (error) {
      // The line is recorded at the desk all the same.
      if (turn === this.#turn) this.#say(`Nothing is recorded at your end (${(error as Error).message}). Your line is recorded at the desk.`);
      return !(error instanceof ServerError) || !mayPass(error.status);
    }
  }

  /** How the line is, while a call is on; null without one. */
  line(report: UplinkReport | null): void {
    this.#pace.inCall(report !== null);
    if (report) this.#pace.report(report);
    const rate = this.#pace.rate();
    for (const { worker } of this.#running.values()) worker.postMessage({ type: 'rate', rate } satisfies ToHomeRecorder);
  }

  async close(): Promise<void> {
    this.#stop();
    for (const { worker } of this.#running.values()) worker.terminate();
    await this.#context?.close();
  }

  /** The browser lets sound on again: what was to be recorded is, from now on. */
  async letSoundOn(): Promise<void> {
    if (this.#context) await getRunning(this.#context);
    if (this.#take !== null && this.#node === null && this.#next === null && this.#starting !== this.#turn) await this.#start(this.#take);
  }

  /** What is recorded ends where the browser stops the sound: a clock that stood still would shift all that follows. */
  #open(): AudioContext {
    const context = new AudioContext({ sampleRate: SAMPLE_RATE });
    context.addEventListener('statechange', () => {
      if (context.state === 'running') return void this.letSoundOn();
      if (this.#node === null) return;
      this.#stop();
      this.#say('Your browser has stopped the sound of this page, so nothing is recorded at your end. Press “Let the sound go on”. Your line is recorded at the desk.');
    });
    return context;
  }

  #say(problem: string | null): void {
    this.#options.store.setState(({ home }) => ({ home: { ...home, recording: this.#node !== null, problem } }));
  }

  async #begin(take: string, turn: number): Promise<void> {
    this.#context ??= this.#open();
    if (!(await getRunning(this.#context))) throw new Error('the browser has stopped the sound of this page. Press “Let the sound go on”');
    const target = await sendJson<HomeTarget>('POST', '/api/guest/home', { take }, { headers: this.#options.headers });
    await this.#load(this.#context);
    // Another take, or none, meanwhile.
    if (turn !== this.#turn) return;
    const ring = new SharedArrayBuffer(ringBytes(1));
    this.#run(target.home).postMessage({ type: 'start', target, ring } satisfies ToHomeRecorder);
    this.#next = { home: target.home, ring };
  }

  /** Loads what captures, once; what could not be loaded is asked for again the next time. */
  async #load({ audioWorklet }: AudioContext): Promise<void> {
    this.#loaded ??= audioWorklet.addModule(new URL('../generated/home.worklet.js', import.meta.url));
    try {
      await this.#loaded;
    } catch {
      this.#loaded = null;
      throw new ServerError(0, 'unreachable', 'The server cannot be reached.');
    }
  }

  /** The recorder has its disk open: what is captured from now on is kept. */
  #capture(home: string): void {
    const next = this.#next;
    if (!this.#context || next?.home !== home) return;
    this.#next = null;
    const node = new AudioWorkletNode(this.#context, 'home-processor', { numberOfOutputs: 0, channelCount: 1, channelCountMode: 'explicit', processorOptions: { ring: next.ring } });
    this.#node = node;
    this.#home = home;
    this.#connect();
    this.#show();
  }

  #stop(): void {
    this.#node?.port.postMessage('close');
    this.#source?.stop();
    this.#source = null;
    this.#node = null;
    this.#home = null;
    this.#show();
  }

  #connect(): void {
    this.#source?.stop();
    this.#source = null;
    if (!this.#context || !this.#node || !this.#stream) return;
    this.#source = streamSource(this.#context, this.#stream);
    this.#source.node.connect(this.#node);
  }

  #run(home: string): Worker {
    const worker = new Worker(new URL('../recorder/home.worker.ts', import.meta.url), { type: 'module' });
    this.#ever = true;
    this.#running.set(home, { worker, captured: 0, kept: 0, sent: 0, waiting: null });
    worker.postMessage({ type: 'rate', rate: this.#pace.rate() } satisfies ToHomeRecorder);
    worker.onmessage = ({ data }: MessageEvent<FromHomeRecorder>) => this.#hear(home, data);
    const fail = () => this.#hear(home, { type: 'failed', message: 'The recorder stopped.' });
    worker.onerror = fail;
    worker.onmessageerror = fail;
    return worker;
  }

  #hear(home: string, message: FromHomeRecorder): void {
    const one = this.#running.get(home);
    if (!one) return;
    if (message.type === 'ready') return this.#capture(home);
    if (message.type === 'progress') {
      const { captured, kept, sent, waiting } = message;
      this.#running.set(home, { worker: one.worker, captured, kept, sent, waiting });
    } else {
      one.worker.terminate();
      this.#running.delete(home);
      if (home === this.#home) this.#stop();
      if (message.type === 'failed') this.#options.store.setState(({ home: state }) => ({ home: { ...state, problem: `What was recorded at your end could not be sent (${message.message}). Your line is recorded at the desk.` } }));
    }
    this.#show();
  }

  #show(): void {
    const all = [...this.#running.values()];
    const seconds = (samples: number[]) => samples.reduce((sum, one) => sum + one, 0) / SAMPLE_RATE;
    const kept = all.map((one) => one.kept);
    const before = this.#options.store.getState().home;
    this.#options.store.setState({
      home: {
        recording: this.#node !== null,
        capturedSeconds: seconds(all.map((one) => one.captured)),
        keptSeconds: kept.some((one) => one === null) ? null : seconds(kept.map((one) => one ?? 0)),
        sentSeconds: seconds(all.map((one) => one.sent)),
        waiting: all.find((one) => one.waiting !== null)?.waiting ?? null,
        complete: this.#ever && all.length === 0,
        problem: before.problem,
      },
    });
  }
}
