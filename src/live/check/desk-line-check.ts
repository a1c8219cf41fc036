import { CUE, nameInId, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import { listenersOf, sourcesOf } from '@/core/hearing/plan';
import type { CheckReport } from '@/core/lines/check-messages';
import { assembleCheck, loudListeners, type HeardInInputs } from '@/core/linecheck/assemble';
import type { LineCheck, WayBack } from '@/core/linecheck/line-check';
import { observationKey } from '@/core/hearing/observation';
import { observationsOf, observedWays } from '@/core/linecheck/observe-check';
import { bestOf, wasLoud } from '@/core/linecheck/repeat';
import { lengthOf, secondsOf, STAGES, type StageName } from '@/core/linecheck/schedule';
import { checkSetup, probesForListeners, probesForSources, type CheckSetup } from '@/core/linecheck/setup';
import { channelsOf, type Tap } from '@/core/session/captures';
import { sendJson } from '../api';
import type { DeskDevices } from '../devices/desk-devices';
import type { DeskLines } from '../lines/desk-lines';
import { ringBytes } from '../recorder/ring';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { CheckSlice, Own } from '../desk/desk-state';
import { CheckGuests } from './check-guests';
import type { CheckProgress } from './check-state';
import type { FromCheckWorker, ToCheckWorker } from './check-messages';
import type { Conditions } from '../desk/conditions';

const COUNT_DOWN_MS = 3000;
/** What evened something out has done its second by then. */
const SETTLE_MS = 1000;
const CAPTURE = 'line check';
/** The worker looks every 40 ms; this is a second and a third. */
const RING_BLOCKS = 500;

export interface DeskLineCheckOptions {
  episode: string;
  store: Own<CheckSlice>;
  /** The audio thread; null while no call runs. */
  audio(): AudioDesk | null;
  lines: DeskLines;
  devices: Pick<DeskDevices, 'holdStill' | 'breaks'>;
  plan: DeskPlan;
  /** Probes are needed now: whoever else uses them gives way. */
  onBegin(): void;
  conditions: Conditions;
}

class BrokenOff extends Error {}

/**
 * The line check: every source becomes a known sound, then every listener is given one, and what arrives is measured where
 * mixes are made, where they end, and in every microphone.
 */
export class DeskLineCheck {
  readonly #options: DeskLineCheckOptions;
  #audio: AudioDesk | null = null;
  #worker: Worker | null = null;
  readonly #guests: CheckGuests;
  #fail: ((reason: Error) => void) | null = null;

  constructor(options: DeskLineCheckOptions) {
    this.#options = options;
    this.#guests = new CheckGuests(options.lines);
  }

  /** Whether one is on: there is never more than one. */
  get running(): boolean {
    return this.#audio !== null;
  }

  /** Checks everything. @param insist although a take runs; it then says so */
  async start(insist = false): Promise<void> {
    const { store, conditions } = this.#options;
    const audio = this.#options.audio();
    if (!audio || this.running) return;
    const take = store.getState().recording?.take ?? null;
    if (take !== null && !insist) return conditions.news('check', 'A take runs: the check would be heard in its mixes. Stop it first, or check anyway and have it noted on the take.');
    this.#audio = audio;
    conditions.end('check');
    try {
      const check = await this.#run(audio, take);
      store.setState({ check: null, lastCheck: check, oneChecks: {} });
      this.#tell(check);
      await this.#keep(check);
    } catch (error) {
      if (!(error instanceof BrokenOff)) conditions.begin('check', `The line check did not come to an end. ${(error as Error).message}`);
    } finally {
      this.#end();
    }
  }

  /** Looks at one listener alone: a probe for them and nobody else, while the call goes on. */
  async startOne(listener: ListenerId): Promise<void> {
    const { store, conditions } = this.#options;
    const audio = this.#options.audio();
    if (!audio || this.running) return;
    if (store.getState().recording) return conditions.news('check', 'A take runs: what comes back of a hiss would be on its tracks. Stop it first.');
    this.#audio = audio;
    conditions.end('check');
    try {
      await this.#runOne(audio, listener);
    } catch (error) {
      if (!(error instanceof BrokenOff)) conditions.begin('check', `The check did not come to an end. ${(error as Error).message}`);
    } finally {
      this.#end();
    }
  }

  /** Breaks it off: everybody hears the call again within 10 ms. */
  stop(): void {
    if (!this.#audio) return;
    this.#audio.tell({ type: 'stop-probes' });
    this.#audio.tell({ type: 'capture', name: CAPTURE, ring: null });
    this.#guests.over(true);
    this.#fail?.(new BrokenOff());
  }

  /** A guest's page says what arrived there. */
  take(seat: string, report: CheckReport): void {
    this.#guests.take(seat, report);
  }

  async #run(audio: AudioDesk, duringTake: string | null): Promise<LineCheck> {
    const { store, devices, lines } = this.#options;
    const { plan } = store.getState();
    const compiled = this.#options.plan.compiled();
    const planVersion = this.#options.plan.version();
    const sources = sourcesOf(plan).filter(({ kind, id }) => kind !== 'talkback' && id !== CUE);
    const listeners = listenersOf(plan);
    const setup = checkSetup(compiled, sources.map(({ id }) => id), listeners.map(({ id }) => id), Math.floor(Math.random() * 1e9));
    const began = new Date();
    const seconds = secondsOf(STAGES.sources) + secondsOf(STAGES.listeners);
    const beginsAt = performance.now() + COUNT_DOWN_MS;
    const show = (phase: CheckProgress['phase'], endsAt = beginsAt + 1000 * seconds) => store.setState({ check: { beginsAt, endsAt, phase } });
    show('count-down');
    const orBroken = this.#begin(setup);
    this.#guests.invite(setup, COUNT_DOWN_MS, seconds);
    await orBroken(new Promise((resolve) => setTimeout(resolve, COUNT_DOWN_MS)));

    show('sources');
    const listenerTaps = listeners.map(({ id }): Tap => ({ of: 'listener', slot: compiled.listenerIds.indexOf(id), channels: 2 }));
    const atSources = await orBroken(this.#stage(audio, 'sources', listenerTaps, setup.listeners, probesForSources(setup, compiled)));
    const inputs = this.#inputs(setup);
    const inputTaps = inputs.map((id): Tap => ({ of: 'source', slot: compiled.sourceIds.indexOf(id), channels: 2 }));
    show('listeners');
    const listen = async () => {
      const [since, before] = [Date.now(), devices.breaks()];
      const heard = await orBroken(this.#stage(audio, 'listeners', inputTaps, inputs, probesForListeners(setup, compiled)));
      return { heard, broke: [...[...devices.breaks()].filter(([place, count]) => before.get(place) !== count).map(([place]) => place), ...lines.breaks(since)] };
    };
    let { heard: atListeners, broke } = await listen();
    let first = heardIn(atListeners);
    if (broke.length > 0 || wasLoud(first)) {
      // Somebody spoke, a device stood still, or a link broke off: once more, and the better of the two counts.
      show('repeat', performance.now() + 1000 * secondsOf(STAGES.listeners));
      const again = await listen();
      first = bestOf(first, heardIn(again.heard), broke.length > 0);
      atListeners = again.heard;
      broke = again.broke;
    }
    const loud = loudListeners(setup, first);
    let second: HeardInInputs | null = null;
    if (loud.size > 0 && loud.size < listeners.length) {
      show('again', performance.now() + 1000 * secondsOf(STAGES.again));
      second = heardIn(await orBroken(this.#stage(audio, 'again', inputTaps, inputs, probesForListeners(setup, compiled, loud), [...loud])));
    }
    const took = performance.now() - beginsAt;
    show('judging');
    await orBroken(this.#guests.reports());
    const measured = assembleCheck({
      setup,
      engineDb: atSources.type === 'sources' ? atSources.engineDb : [],
      first,
      second,
      farEnds: this.#guests.said,
      digitalSilence: new Set(atListeners.type === 'inputs' ? atListeners.silent.filter((source) => !this.#wasHeard(source)) : []),
    });
    const names = Object.fromEntries([...sources, ...listeners].map(({ id, name }) => [id, name]));
    return { version: 1, seed: setup.seed, at: began.toISOString(), seconds: Math.round(took / 100) / 10, planVersion, names, duringTake, broke, ...measured };
  }

  async #runOne(audio: AudioDesk, listener: ListenerId): Promise<void> {
    const { store, plan: deskPlan } = this.#options;
    const { plan } = store.getState();
    const compiled = deskPlan.compiled();
    const setup = checkSetup(compiled, sourcesOf(plan).map(({ id }) => id), listenersOf(plan).map(({ id }) => id), Math.floor(Math.random() * 1e9));
    const others = setup.listeners.filter((one) => one !== listener);
    const probe = probesForListeners(setup, compiled, new Set(others)).filter(({ of }) => of === 'listener');
    const beginsAt = performance.now();
    store.setState({ check: { beginsAt, endsAt: beginsAt + SETTLE_MS + 1000 * secondsOf(STAGES.listeners), phase: 'one' } });
    const orBroken = this.#begin(setup);
    this.#guests.forget();
    const inputs = this.#inputs(setup);
    const taps = inputs.map((id): Tap => ({ of: 'source', slot: compiled.sourceIds.indexOf(id), channels: 2 }));
    await orBroken(new Promise((resolve) => setTimeout(resolve, SETTLE_MS)));
    const heard = heardIn(await orBroken(this.#stage(audio, 'listeners', taps, inputs, probe, others)));
    const at = new Date();
    const ways = [...heard].flatMap(([to, { found }]) => found.map(({ gainDb, delayMs }): WayBack => ({ from: listener, to, gainDb, delayMs, pass: 1 })));
    const own = heard.get(voiceOf(nameInId(listener)));
    store.setState(({ oneChecks }) => ({ oneChecks: { ...oneChecks, [listener]: { at: at.toISOString(), ways, floorDb: own?.floorDb ?? Infinity } } }));
    const before = observedWays(plan, store.getState().lastCheck?.waysBack.filter(({ from }) => from === listener) ?? [], at).map(observationKey);
    deskPlan.forget((one) => one.by === 'the line check' && before.includes(observationKey(one)));
    if (ways.length > 0) deskPlan.observe(observedWays(plan, ways, at));
  }

  /** Makes what a check needs; gives a wait that ends when it is broken off. */
  #begin(setup: CheckSetup): <Value>(value: Promise<Value>) => Promise<Value> {
    this.#options.onBegin();
    this.#options.devices.holdStill(true);
    const brokenOff = new Promise<never>((_, reject) => (this.#fail = reject));
    // What is not waited for at the moment must not go unheard.
    brokenOff.catch(() => undefined);
    this.#worker = new Worker(new URL('./line-check.worker.ts', import.meta.url), { type: 'module' });
    this.#worker.onerror = () => this.#fail?.(new Error('What was heard could not be judged: the worker stopped.'));
    this.#tellWorker({ type: 'begin', setup });
    return (value) => Promise.race([value, brokenOff]);
  }

  #end(): void {
    this.#options.store.setState({ check: null });
    this.#options.devices.holdStill(false);
    this.#audio = null;
    this.#worker?.terminate();
    this.#worker = this.#fail = null;
  }

  /** Everything something could come back by. */
  #inputs({ sources }: CheckSetup): SourceId[] {
    return sources.filter((id) => !id.startsWith('sounds:') && !id.startsWith('talkback:') && this.#comesIn(id));
  }

  /** What it found takes the place of what the one before had found. */
  #tell(check: LineCheck): void {
    const { plan, store } = this.#options;
    plan.forget(({ by }) => by === 'the line check');
    plan.observe(observationsOf(store.getState().plan, check));
  }

  async #keep(check: LineCheck): Promise<void> {
    await sendJson('POST', `/api/episodes/${this.#options.episode}/checks`, check).catch((error: Error) =>
      this.#options.conditions.begin('check', `What the line check found stands here, but was not kept with the episode. ${error.message}`),
    );
  }

  /** Practice callers and many programs send digital silence between words: only who was never heard is missing. */
  #wasHeard(source: SourceId): boolean {
    const { seats, voices } = this.#options.store.getState();
    return seats.some(({ id, practice }) => id === nameInId(source) && practice) || (voices[source]?.peakDb ?? null) !== null || source.startsWith('share:');
  }

  /** Whether something can come by a source now; a share that is not on, or a guest who is not there, has nothing to say. */
  #comesIn(source: SourceId): boolean {
    const { seats, lines, share, plugged } = this.#options.store.getState();
    if (source.startsWith('share:')) return share !== null;
    if (source.startsWith('input:')) return plugged.inputs[source]?.state === 'open';
    const seat = seats.find(({ id }) => id === nameInId(source));
    if (!seat) return false;
    if (seat.role === 'host' || seat.practice) return true;
    const state = lines[seat.id]?.state;
    return state === 'live' || state === 'waiting' || (seat.line === 'pair' && state !== undefined && !['unplugged', 'one-end', 'away', 'refused'].includes(state));
  }

  async #stage(audio: AudioDesk, stage: StageName, taps: Tap[], names: string[], probes: ReturnType<typeof probesForSources>, leftOut: string[] = []): Promise<FromCheckWorker> {
    const ring = new SharedArrayBuffer(ringBytes(channelsOf(taps), RING_BLOCKS));
    const judged = new Promise<FromCheckWorker>((resolve) => (this.#worker!.onmessage = ({ data }: MessageEvent<FromCheckWorker>) => resolve(data)));
    this.#tellWorker({ type: 'stage', stage, ring, taps, names, leftOut });
    audio.tell({ type: 'capture', name: CAPTURE, ring, taps });
    this.#guests.begins(stage);
    this.#tellWorker({ type: 'began', at: await audio.probe(probes, lengthOf(STAGES[stage])) });
    const found = await judged;
    audio.tell({ type: 'capture', name: CAPTURE, ring: null });
    return found;
  }

  #tellWorker(message: ToCheckWorker): void {
    this.#worker?.postMessage(message);
  }
}

const heardIn = (found: FromCheckWorker): HeardInInputs => new Map(found.type === 'inputs' ? found.heard : []);
