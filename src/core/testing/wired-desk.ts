import { createEngine } from '../engine/engine';
import { mapChannels, type OutputChannels } from '../devices/device';
import { compilePlan } from '../hearing/compile';
import { returnOf, voiceOf } from '../hearing/ids';
import type { HearingPlan } from '../hearing/plan';
import type { WiredInput, Wiring } from '../hearing/wiring';

const BLOCK = 128;
type Sides = [Float32Array, Float32Array];
const silence = (): Sides => [new Float32Array(BLOCK), new Float32Array(BLOCK)];

/**
 * A desk with devices around it, block by block: each output a bus that every mix on it is added to, each input what somebody
 * says into it and, where it is the end of a cable, what went into the other end a block before. A device with plugs keeps its
 * channels apart; a program at the end of a cable speaks into both and hears both.
 */
export class WiredDesk {
  readonly #compiled;
  readonly #engine;
  readonly #wiring: Wiring;
  readonly #plan: HearingPlan;
  #buses = new Map<string, Sides>();

  constructor(plan: HearingPlan, wiring: Wiring) {
    this.#plan = plan;
    this.#wiring = wiring;
    this.#compiled = compilePlan(plan);
    this.#engine = createEngine({ sources: this.#compiled.sourceIds.length, listeners: this.#compiled.listenerIds.length, maxBlock: BLOCK });
    this.#engine.setPlan(this.#compiled, 0);
  }

  /** @param voice what the one who comes in by `speaker` says */
  step(speaker: WiredInput, voice: Float32Array): void {
    const { inputs, outlets } = this.#wiring;
    const both = speaker.cable !== null || !['left', 'right'].includes(speaker.channels);
    const says = (side: 'left' | 'right') => both || speaker.channels === side;
    for (const input of inputs) {
      const slot = this.#compiled.sourceIds.indexOf(input.source);
      const { left, right } = this.#engine.inputs[slot];
      const [cableLeft, cableRight] = this.#cableInto(input.cable);
      for (let i = 0; i < BLOCK; i++) {
        const said = input.device === speaker.device ? voice[i] : 0;
        left[i] = (says('left') ? said : 0) + cableLeft[i];
        right[i] = (says('right') ? said : 0) + cableRight[i];
      }
      mapChannels(input.channels, left, right, BLOCK);
    }
    this.#engine.process(BLOCK);
    this.#buses = new Map();
    for (const outlet of outlets) {
      const bus = this.#buses.get(outlet.device) ?? silence();
      this.#buses.set(outlet.device, bus);
      const { left, right } = this.#engine.outputs[this.#compiled.listenerIds.indexOf(outlet.listener)];
      this.#leave(outlet.channels, bus, left, right);
    }
  }

  /** What somebody hears: everything on the channels of the output where their return leaves. */
  ears(seat: string): Float32Array {
    const outlet = this.#wiring.outlets.find(({ listener }) => listener === returnOf(seat) || listener === `phones:${seat}`);
    const [left, right] = (outlet && this.#buses.get(outlet.device)) ?? silence();
    const side = outlet?.cable === null ? outlet.channels : 'stereo';
    return left.map((x, i) => (side === 'right' ? right[i] : side === 'left' ? x : x + right[i]));
  }

  /** Seats whose voice comes in by a device. */
  speakers(): { seat: string; input: WiredInput }[] {
    return this.#plan.seats.flatMap(({ id }) => {
      const input = this.#wiring.inputs.find(({ source }) => source === voiceOf(id));
      return input ? [{ seat: id, input }] : [];
    });
  }

  #cableInto(cable: string | null): Sides {
    const outlet = cable === null ? undefined : this.#wiring.outlets.find((one) => one.cable === cable);
    return (outlet && this.#buses.get(outlet.device)) ?? silence();
  }

  #leave(channels: OutputChannels, [busLeft, busRight]: Sides, left: Float32Array, right: Float32Array): void {
    for (let i = 0; i < BLOCK; i++) {
      const middle = 0.5 * (left[i] + right[i]);
      if (channels !== 'right') busLeft[i] += channels === 'left' ? middle : left[i];
      if (channels !== 'left') busRight[i] += channels === 'right' ? middle : right[i];
    }
  }
}
