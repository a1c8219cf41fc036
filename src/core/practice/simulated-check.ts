import { decimateTo16k } from '../dsp/decimate';
import { dbToGain } from '../dsp/decibels';
import { createEngine } from '../engine/engine';
import type { Probe } from '../engine/probes';
import { compilePlan, type CompiledPlan } from '../hearing/compile';
import { COMPUTER_SHARE, withComputerShare } from '../hearing/computer-share';
import { setCrosspoint } from '../hearing/edit';
import { PROGRAM, phonesOf, returnOf, voiceOf, type ListenerId, type SourceId } from '../hearing/ids';
import { createPlan, sourcesOf, type HearingPlan, type Seat } from '../hearing/plan';
import { assembleCheck, loudListeners, type FarReport } from '../linecheck/assemble';
import { crosspointsInEngine } from '../linecheck/crosspoints';
import { farReport } from '../linecheck/far-report';
import type { LineCheck } from '../linecheck/line-check';
import { lengthOf, PROBE_DB, STAGES, type Stage, type StageName } from '../linecheck/schedule';
import { checkSetup, listenerCodes, probesForListeners, probesForSources, sourceCodes, type CheckSetup } from '../linecheck/setup';
import { findArrivals, type Arrivals } from '../linecheck/ways-back';
import { createRandom, seedFor, type Random } from '../random';
import { createRoom } from './room';

const BLOCK = 128;
const ENDING = 2400;

/** A way sound takes outside the desk, put in on purpose: what a listener is sent comes back in a source. */
export interface PutWay {
  from: ListenerId;
  to: SourceId;
  gainDb: number;
  /** Without what the lines add, ms. */
  delayMs: number;
  /** A loudspeaker and a room, or (false) a program that sends it straight back. */
  throughRoom: boolean;
}

/** What is wrong with a simulated call. */
export interface PutFaults {
  ways?: readonly PutWay[];
  /** Pairs whose returns reach each other's ends. */
  swapped?: readonly (readonly [ListenerId, ListenerId])[];
  /** Lines by which nothing arrives. */
  dead?: readonly ListenerId[];
  /** Crosspoints the engine has otherwise than the plan; null for closed. */
  engine?: readonly { source: SourceId; listener: ListenerId; gainDb: number | null }[];
}

/** One direction of a line: the same length, later by the line's delays, one after another. */
export type LineSound = (sound: Float32Array, seed: number) => { sound: Float32Array; delaysMs: number[] };

export interface SimulatedCheckOptions {
  callers: number;
  seed: number;
  faults: PutFaults;
  line: LineSound;
  /** Noise of every room, dBFS. */
  roomDb: number;
  /** What somebody says meanwhile, by number of the caller; silence for most. */
  talk?(caller: number, samples: number): Float32Array | null;
}

/** What the check should say of a way that was put in. */
export interface TrueWay {
  from: ListenerId;
  to: SourceId;
  gainDb: number;
  /** Each that was true at some time: the buffers of both lines may jump. */
  delaysMs: number[];
}

export interface SimulatedCheck {
  plan: HearingPlan;
  setup: CheckSetup;
  found: ReturnType<typeof assembleCheck> & Partial<LineCheck>;
  truth: TrueWay[];
  /** Longest time a stage's analysis took at the desk after its last sample, ms; what guests' pages do at their ends is theirs. */
  analysisMs: number;
}

/** Host, callers, two players and the computer's share. */
export function planForCheck(callers: number): HearingPlan {
  const seat = (id: string, name: string, role: Seat['role']): Seat => ({ id, name, role, line: 'link', reflexive: 'themselves' });
  const seats = [seat('host', 'Host', 'host'), ...Array.from({ length: callers }, (_, k) => seat(`caller-${k + 1}`, `Caller ${k + 1}`, 'caller'))];
  return withComputerShare(createPlan(seats, [{ id: 'bed', name: 'Bed' }, { id: 'effects', name: 'Effects' }]));
}

/** A whole line check of a made-up call, on the engine that runs at a desk, with faults that are known. */
export function simulateCheck(options: SimulatedCheckOptions): SimulatedCheck {
  const { callers, seed, faults } = options;
  const random = createRandom(seedFor(seed, 'check'));
  const plan = someLevels(planForCheck(callers), random);
  const compiled = compilePlan(plan);
  const inForce = compilePlan((faults.engine ?? []).reduce((changed, { source, listener, gainDb }) => setCrosspoint(changed, source, listener, { open: gainDb !== null, gainDb: gainDb ?? 0 }), plan));
  const sources = sourcesOf(plan).filter(({ kind }) => kind !== 'talkback').map(({ id }) => id);
  const returns = plan.seats.filter(({ role }) => role === 'caller').map(({ id }) => returnOf(id));
  const listeners: ListenerId[] = [phonesOf('host'), ...returns, PROGRAM];
  const setup = checkSetup(compiled, sources, listeners, seed);
  const inputs: SourceId[] = [voiceOf('host'), ...returns.map((id) => voiceOf(id.slice('return:'.length))), COMPUTER_SHARE];

  const ofSources = sendOut(inForce, probesForSources(setup, compiled), STAGES.sources);
  const ofListeners = sendOut(inForce, probesForListeners(setup, compiled), STAGES.listeners);
  const world = new World(options, inputs, listeners, compiled);
  const stage = (name: StageName, sent: Float32Array[]) => world.hear(name, sent, STAGES[name]);
  const atSources = stage('sources', ofSources);
  const atListeners = stage('listeners', ofListeners);

  let analysisMs = 0;
  const timed = <Result>(work: () => Result): Result => {
    const began = performance.now();
    const result = work();
    analysisMs = Math.max(analysisMs, performance.now() - began);
    return result;
  };
  // They are made while everybody is asked to be quiet.
  listenerCodes(setup.listeners.length, setup.seed);
  const engineDb = timed(() => listeners.map((listener) => crosspointsInEngine(judged(ofSources[compiled.listenerIds.indexOf(listener)], STAGES.sources), sourceCodes(setup.sources.length, setup.seed), STAGES.sources.leadIn / 48, setup.sourcesDb)));
  const first = timed(() => arrivals(setup, atListeners.inputs, 'listeners', new Set()));
  const loud = loudListeners(setup, first);
  let second: Map<SourceId, Arrivals> | null = null;
  if (loud.size > 0) {
    const again = stage('again', sendOut(inForce, probesForListeners(setup, compiled, loud), STAGES.again));
    second = timed(() => arrivals(setup, again.inputs, 'again', loud));
  }
  const farEnds = new Map(returns.map((listener): [ListenerId, FarReport] => [listener, atEnd(setup, listener, judged(atSources.ends.get(listener)!, STAGES.sources), judged(atListeners.ends.get(listener)!, STAGES.listeners))]));
  const found = assembleCheck({ setup, engineDb, first, second, farEnds, digitalSilence: new Set() });
  return { plan, setup, found, truth: world.truth(), analysisMs };
}

/** Some crosspoints not at 0 dB, some closed. */
function someLevels(plan: HearingPlan, random: Random): HearingPlan {
  let changed = plan;
  for (const { id } of plan.seats.filter(({ role }) => role === 'caller')) {
    if (random.next() < 0.5) changed = setCrosspoint(changed, 'sounds:bed', returnOf(id), { open: true, gainDb: -Math.round(random.between(1, 14)) });
    if (random.next() < 0.2) changed = setCrosspoint(changed, 'sounds:effects', returnOf(id), { open: false, gainDb: 0 });
  }
  return changed;
}

/** What leaves the engine for each of its listeners while probes are sent, both sides put together, 48 kHz. */
function sendOut(compiled: CompiledPlan, probes: Probe[], stage: Stage): Float32Array[] {
  const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: BLOCK });
  engine.setPlan(compiled);
  const samples = Math.ceil((lengthOf(stage) + ENDING) / BLOCK) * BLOCK;
  const out = compiled.listenerIds.map(() => new Float32Array(samples));
  engine.process(BLOCK);
  for (let warm = 0; warm < 8; warm++) engine.process(BLOCK);
  engine.probe(probes, lengthOf(stage));
  for (let at = 0; at < samples; at += BLOCK) {
    engine.process(BLOCK);
    out.forEach((own, m) => {
      const { left, right } = engine.outputs[m];
      for (let i = 0; i < BLOCK; i++) own[at + i] = (left[i] + right[i]) / 2;
    });
  }
  return out;
}

const judged = (sound: Float32Array, { leadIn, judged: length }: Stage): Float32Array => decimateTo16k(sound).subarray(leadIn / 3, (leadIn + length) / 3);

/** As the guest's page would judge it. */
function atEnd(setup: CheckSetup, listener: ListenerId, ofSources: Float32Array, ofListeners: Float32Array): FarReport {
  const own = setup.listeners.indexOf(listener);
  return farReport({ seed: setup.seed, plannedDb: setup.plannedDb[own], sourcesDb: setup.sourcesDb, listeners: setup.listeners.length, own }, ofSources, ofListeners, null);
}

function arrivals(setup: CheckSetup, inputs: ReadonlyMap<SourceId, Float32Array>, name: StageName, leftOut: ReadonlySet<ListenerId>): Map<SourceId, Arrivals> {
  const codes = listenerCodes(setup.listeners.length, setup.seed);
  const sent = setup.listeners.flatMap((listener, k) => (leftOut.has(listener) ? [] : [k]));
  return new Map([...inputs].map(([source, sound]) => [source, findArrivals(judged(sound, STAGES[name]), codes, STAGES[name].leadIn / 48, PROBE_DB, sent)]));
}

/** Everything between the engine's outputs and its inputs. */
class World {
  readonly #options: SimulatedCheckOptions;
  readonly #inputs: readonly SourceId[];
  readonly #listeners: readonly ListenerId[];
  readonly #compiled: CompiledPlan;
  readonly #linesMs = new Map<string, number[]>();

  constructor(options: SimulatedCheckOptions, inputs: readonly SourceId[], listeners: readonly ListenerId[], compiled: CompiledPlan) {
    this.#options = options;
    this.#inputs = inputs;
    this.#listeners = listeners;
    this.#compiled = compiled;
  }

  hear(name: StageName, sent: readonly Float32Array[], stage: Stage) {
    const { seed, line, roomDb, faults, talk } = this.#options;
    const out = (listener: ListenerId) => sent[this.#compiled.listenerIds.indexOf(listener)];
    const ends = new Map<ListenerId, Float32Array>();
    for (const listener of this.#listeners) {
      const isLine = listener.startsWith('return:');
      const taken = faults.swapped?.flatMap(([a, b]) => (a === listener ? [b] : b === listener ? [a] : []))[0] ?? listener;
      const { sound, delaysMs } = isLine ? line(out(taken), seedFor(seed, `${name} down ${listener}`)) : { sound: out(listener), delaysMs: [0] };
      if (name === 'listeners') this.#linesMs.set(listener, delaysMs);
      ends.set(listener, faults.dead?.includes(listener) ? new Float32Array(sound.length) : sound);
    }
    const inputs = new Map<SourceId, Float32Array>();
    this.#inputs.forEach((source, k) => {
      const noise = createRandom(seedFor(seed, `${name} noise ${source}`));
      const microphone = source === COMPUTER_SHARE ? new Float32Array(out(PROGRAM).length) : Float32Array.from(out(PROGRAM), () => dbToGain(roomDb) * noise.normal());
      const said = talk?.(k, microphone.length);
      if (said) for (let i = 0; i < microphone.length; i++) microphone[i] += said[i] ?? 0;
      for (const way of faults.ways ?? []) if (way.to === source) addWay(microphone, ends.get(way.from)!, way, seed);
      const isLine = source.startsWith('voice:caller');
      const { sound, delaysMs } = isLine ? line(microphone, seedFor(seed, `${name} up ${source}`)) : { sound: microphone, delaysMs: [0] };
      if (name === 'listeners') this.#linesMs.set(source, delaysMs);
      inputs.set(source, sound);
    });
    return { ends, inputs, length: lengthOf(stage) };
  }

  truth(): TrueWay[] {
    const { faults, seed } = this.#options;
    return (faults.ways ?? []).map((way) => ({ from: way.from, to: way.to, gainDb: voiceRatioDb(way, seed), delaysMs: this.#linesMs.get(way.from)!.flatMap((down) => this.#linesMs.get(way.to)!.map((up) => way.delayMs + down + up)) }));
  }
}

function addWay(into: Float32Array, from: Float32Array, way: PutWay, seed: number): void {
  if (!way.throughRoom) {
    const late = Math.round(way.delayMs * 48);
    for (let i = late; i < into.length; i++) into[i] += dbToGain(way.gainDb) * from[i - late];
    return;
  }
  const room = createRoom({ couplingDb: way.gainDb, delayMs: way.delayMs, seed: seedFor(seed, `way ${way.from} ${way.to}`) }, BLOCK);
  for (let at = 0; at + BLOCK <= into.length; at += BLOCK) {
    room.pickUp(into.subarray(at, at + BLOCK), BLOCK);
    room.play(from.subarray(at, at + BLOCK), BLOCK);
  }
}

let voice: Float32Array | null = null;
/** A voice to measure ways with. */
export const measureWith = (recording: Float32Array): void => void (voice = recording);

/** Energy of a voice behind a way, against before. */
function voiceRatioDb(way: PutWay, seed: number): number {
  if (!voice) throw new Error('There is no voice to measure with.');
  const after = new Float32Array(voice.length);
  addWay(after, voice, way, seed);
  const energy = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
  return 10 * Math.log10(energy(after) / energy(voice));
}
