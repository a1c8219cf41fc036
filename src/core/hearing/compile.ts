import { dbToGain } from '../dsp/decibels';
import { compileDucking, type CompiledDucking } from './ducking';
import { compileOffsets, type CompiledOffset } from './offset';
import { compileProcessing, type CompiledProcessing } from './processing';
import { CUE, type ListenerId, type SourceId } from './ids';
import { coughsInto, NOTHING_ON_AIR, talksInto, type OnAir } from './on-air';
import { crosspointOf, operandFor, type Operand } from './operands';
import {
  listenerSettings,
  listenersOf,
  sourceSettings,
  sourcesOf,
  type HearingPlan,
  type Listener,
  type Source,
} from './plan';
import { slotsInOrder, type Slots } from './slots';

/**
 * A plan as flat arrays, ready for the engine and for a message between threads. Listener `m` has
 * the operands `first[m]` to `first[m + 1]`; each names a source by its place in `sourceIds`.
 * Closed crosspoints are left out.
 */
export interface CompiledPlan {
  sourceIds: SourceId[];
  listenerIds: ListenerId[];
  first: Uint16Array;
  source: Uint16Array;
  /** Linear gain of each operand on the left: source trim × crosspoint × listener level × balance. */
  gainLeft: Float32Array;
  gainRight: Float32Array;
  /** 1 for each operand that is taken as it comes in, before its strip. */
  raw: Uint8Array;
  /** What goes under the voices by itself. */
  ducking: CompiledDucking[];
  /** Voices that are processed on their way into the mixes. */
  processing: CompiledProcessing[];
  /** Sources that come later into the mixes. */
  offsets: CompiledOffset[];
}

export interface CompileOptions {
  onAir?: OnAir;
  /** Engine places of sources and listeners; the plan's own order unless given. */
  slots?: Slots;
}

/** Compiles a plan and what the hands do over it. */
export function compilePlan(plan: HearingPlan, options: CompileOptions = {}): CompiledPlan {
  const onAir = options.onAir ?? NOTHING_ON_AIR;
  const slots = options.slots ?? slotsInOrder(plan);
  const sources = new Map(sourcesOf(plan).map((source) => [source.id, source]));
  const listeners = listenersOf(plan);
  const first = new Uint16Array(slots.listeners.length + 1);
  const source: number[] = [];
  const left: number[] = [];
  const right: number[] = [];
  const raw: number[] = [];
  const addOperand = (slot: number, gain: number, balance: number, asItComes: boolean): void => {
    source.push(slot);
    raw.push(asItComes ? 1 : 0);
    left.push(gain * Math.min(1, 1 - balance));
    right.push(gain * Math.min(1, 1 + balance));
  };
  slots.listeners.forEach((listenerId, place) => {
    const listener = listeners.find(({ id }) => id === listenerId);
    slots.sources.forEach((sourceId, slot) => {
      if (sourceId === CUE) {
        if (listener?.kind === 'phones') addOperand(slot, dbToGain(phonesLevel(plan, onAir, listener)), 0, false);
        return;
      }
      const candidate = sources.get(sourceId);
      const gainDb = listener && candidate ? heardAt(plan, onAir, candidate, listener, listeners) : null;
      if (gainDb === null || !candidate) return;
      addOperand(slot, dbToGain(gainDb), sourceSettings(plan, candidate.id).balance, takenAsItComes(plan, onAir, candidate, listener as Listener));
    });
    first[place + 1] = source.length;
  });
  return {
    sourceIds: [...slots.sources],
    listenerIds: [...slots.listeners],
    first,
    source: Uint16Array.from(source),
    gainLeft: Float32Array.from(left),
    gainRight: Float32Array.from(right),
    raw: Uint8Array.from(raw),
    ducking: compileDucking(plan, onAir, slots.sources),
    processing: compileProcessing(plan, slots.sources),
    offsets: compileOffsets(plan, slots.sources),
  };
}

/** Whether a listener is given a source as it comes in, before its strip. */
export function takenAsItComes(plan: HearingPlan, onAir: OnAir, source: Source, listener: Listener): boolean {
  const { listenTo } = onAir;
  if (listener.kind !== 'phones' || listenTo === null) return source.kind === 'voice' && listenerSettings(plan, listener.id).asTheyCome;
  if ('source' in listenTo) return listenTo.asItComes !== undefined;
  return source.kind === 'voice' && listenerSettings(plan, listenTo.listener).asTheyCome;
}

/** Level in dB at which a listener hears a source now, all settings together; null for not at all. */
export function heardAt(
  plan: HearingPlan,
  onAir: OnAir,
  source: Source,
  listener: Listener,
  listeners: readonly Listener[],
): number | null {
  if (onAir.held.includes(source.id)) return null;
  const { levelDb } = listenerSettings(plan, listener.id);
  if (listener.kind !== 'phones') return mixedAt(plan, onAir, source, listener, levelDb);
  const dimmed = phonesLevel(plan, onAir, listener);
  const { listenTo } = onAir;
  if (listenTo === null) return mixedAt(plan, onAir, source, listener, dimmed);
  // Before the fader: neither trim nor crosspoint nor on/off, only the phones' own level.
  if ('source' in listenTo) return listenTo.source === source.id ? dimmed + (listenTo.asItComes?.gainDb ?? 0) : null;
  const borrowed = listeners.find(({ id }) => id === listenTo.listener) ?? listener;
  const borrowedLevel = listenerSettings(plan, borrowed.id).levelDb;
  return mixedAt(plan, onAir, source, borrowed, borrowedLevel - (onAir.phonesDim ? onAir.phonesDimDb : 0));
}

/** Level of the phones, the dim included, dB. */
function phonesLevel(plan: HearingPlan, onAir: OnAir, phones: Listener): number {
  return listenerSettings(plan, phones.id).levelDb - (onAir.phonesDim ? onAir.phonesDimDb : 0);
}

function mixedAt(plan: HearingPlan, onAir: OnAir, source: Source, listener: Listener, levelDb: number): number | null {
  const operand = operandFor(source, listener);
  if (!operand) return null;
  const talking: string[] = talksInto(onAir, listener);
  if (talking.length > 0) {
    if (talking.includes(source.id)) return levelDb;
    const plain = plainlyAt(plan, onAir, operand);
    return plain === null ? null : plain + levelDb - onAir.talkDimDb;
  }
  const plain = plainlyAt(plan, onAir, operand);
  return plain === null ? null : plain + levelDb;
}

/** What the plan alone gives, before the listener's level; null where it is closed for any reason. */
function plainlyAt(plan: HearingPlan, onAir: OnAir, operand: Operand): number | null {
  const { source, listener } = operand;
  const settings = sourceSettings(plan, source.id);
  const waits =
    (source.kind === 'voice' && plan.waiting.includes(source.seat.id)) ||
    (listener.kind === 'return' && plan.waiting.includes(listener.seat.id));
  if (waits || !settings.on || settings.offIn.includes(listener.kind)) return null;
  if (coughsInto(onAir, source.id, listener)) return null;
  const crosspoint = crosspointOf(plan, operand);
  return crosspoint.open ? settings.trimDb + crosspoint.gainDb : null;
}

/** Linear gain of one crosspoint in a compiled plan (the louder side); 0 where it is closed or does not exist. */
export function compiledGain(compiled: CompiledPlan, source: SourceId, listener: ListenerId): number {
  const place = compiled.listenerIds.indexOf(listener);
  const slot = compiled.sourceIds.indexOf(source);
  for (let i = compiled.first[place]; i < compiled.first[place + 1]; i++) {
    if (compiled.source[i] === slot) return Math.max(compiled.gainLeft[i], compiled.gainRight[i]);
  }
  return 0;
}
