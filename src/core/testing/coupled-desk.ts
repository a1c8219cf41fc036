import { createEngine } from '../engine/engine';
import { compilePlan } from '../hearing/compile';
import { nameInId, phonesOf, returnOf } from '../hearing/ids';
import type { Coupling } from '../hearing/coupling';
import type { HearingPlan } from '../hearing/plan';
import { dbToGain } from '../dsp/decibels';

const BLOCK = 64;
const RATE = 48000;

interface Wire {
  coupling: Coupling;
  gain: number;
  line: Float32Array;
  delay: number;
  /** The source it ends at; -1 where it ends at somebody's ears. */
  slot: number;
}

/** Samples that are still under way in a wire; a power of two. */
const WIRE_SAMPLES = 2 ** 16;
const WRAP = WIRE_SAMPLES - 1;

/**
 * A desk with its surroundings, played sample by sample: the engine with a plan, and every coupling
 * as a delayed wire around it. The truth the audit is held against.
 */
export class CoupledDesk {
  readonly engine;
  readonly #plan: HearingPlan;
  readonly #compiled;
  readonly #wires: Wire[];
  readonly #ears: Map<string, Float32Array>;
  /** What each seat is sent, as the engine last made it. */
  readonly #own: [ears: Float32Array, sent: Float32Array][];
  #clock = 0;

  /** @param couplingDb added to every coupling */
  constructor(plan: HearingPlan, couplingDb = 0) {
    this.#plan = plan;
    this.#compiled = compilePlan(plan);
    this.engine = createEngine({
      sources: this.#compiled.sourceIds.length,
      listeners: this.#compiled.listenerIds.length,
      maxBlock: BLOCK,
    });
    this.engine.setPlan(this.#compiled);
    this.#ears = new Map(plan.seats.map(({ id }) => [id, new Float32Array(BLOCK)]));
    this.#own = [...this.#ears].flatMap(([seat, ears]) => {
      const sent = this.heard(returnOf(seat)) ?? this.heard(phonesOf(seat));
      return sent ? [[ears, sent]] : [];
    });
    this.#wires = plan.couplings.map((coupling) => ({
      coupling,
      gain: dbToGain(coupling.gainDb + couplingDb),
      line: new Float32Array(WIRE_SAMPLES),
      delay: Math.max(BLOCK, Math.round((coupling.delayMs / 1000) * RATE)),
      slot: this.#compiled.sourceIds.findIndex((id) => id === coupling.to),
    }));
  }

  /** One block; `speak` writes what mouths and players bring into a source. */
  step(speak: (source: string, samples: Float32Array, clock: number) => void): void {
    const { engine } = this;
    const { sourceIds } = this.#compiled;
    const mouths = sourceIds.map((id, n) => {
      const { left, right } = engine.inputs[n];
      left.fill(0);
      speak(id, left, this.#clock);
      right.set(left);
      return left.slice();
    });
    for (const ears of this.#ears.values()) ears.fill(0);
    for (const { coupling, gain, line, delay, slot } of this.#wires) {
      const target = slot >= 0 ? engine.inputs[slot].left : this.#ears.get(nameInId(coupling.to))!;
      const from = this.#clock - delay;
      for (let i = 0; i < BLOCK; i++) target[i] += gain * line[(from + i) & WRAP];
      if (slot >= 0) engine.inputs[slot].right.set(engine.inputs[slot].left);
    }
    engine.process(BLOCK);
    for (const [ears, sent] of this.#own) for (let i = 0; i < BLOCK; i++) ears[i] += sent[i];
    for (const { coupling, line } of this.#wires) {
      const from = coupling.from;
      // A voice coupling starts at the mouth: one microphone does not hear another's line.
      const samples = from.startsWith('ears:')
        ? this.#ears.get(nameInId(from))!
        : (this.heard(from) ?? mouths[sourceIds.findIndex((id) => id === from)]);
      const at = this.#clock;
      for (let i = 0; i < BLOCK; i++) line[(at + i) & WRAP] = samples[i];
    }
    this.#clock += BLOCK;
  }

  /** The newest block of a listener, or undefined where there is none of that name. */
  heard(listener: string): Float32Array | undefined {
    const place = this.#compiled.listenerIds.findIndex((id) => id === listener);
    return place < 0 ? undefined : this.engine.outputs[place].left;
  }

  ears(seat: string): Float32Array {
    return this.#ears.get(seat)!;
  }

  /** Level of what a seat's ears get after one click of its own voice, against the click, dB. */
  ownClickDb(seat: string, seconds = 1.5): number {
    let energy = 0;
    const level = 1e-4;
    const said = this.#plan.seats.find(({ id }) => id === seat)!.person;
    for (let block = 0; block < (seconds * RATE) / BLOCK; block++) {
      this.step((source, samples, clock) => {
        const speaker = this.#plan.seats.find(({ id }) => `voice:${id}` === source);
        const isMouth = speaker && (speaker.id === seat || (said !== undefined && speaker.person === said));
        if (isMouth && clock === 9600) samples[0] = level;
      });
      for (const one of this.#plan.seats) {
        const same = one.id === seat || (said !== undefined && one.person === said);
        if (same) for (const sample of this.ears(one.id)) energy += sample * sample;
      }
    }
    return 10 * Math.log10(energy / (level * level));
  }
}
