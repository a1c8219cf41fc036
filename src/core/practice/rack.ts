import { ClockBridge } from '../dsp/clock-bridge';
import { DelayLine } from '../dsp/delay-line';
import { MOST_OFFSET_MS } from '../hearing/source-treatment';
import { ringResampler } from '../dsp/ring-resampler';
import { SINC_REACH } from '../dsp/sinc';
import { RATE, writeSound, type SoundRing } from '../dsp/sound-ring';
import { createFarEnd, type FarEnd } from './far-end';

/** Made-up devices, for a machine that has none. */
export const RACK_CABLES = ['cable-1', 'cable-2', 'cable-3'] as const;
export const RACK_DEVICES = ['microphone', 'phones', ...RACK_CABLES] as const;
export type RackDevice = (typeof RACK_DEVICES)[number];

/** An outside program that takes one cable as its microphone's source and plays into another. */
export interface RackProgram {
  hears: RackDevice;
  speaksInto: RackDevice;
  /** Clips of everybody there. */
  people: Float32Array[][];
  seed: number;
  sendsBack: boolean;
  loudspeakers: boolean;
}

/** How a made-up device’s clock runs. */
export interface RackClock {
  rate: number;
  /** Against the computer's, ppm. */
  ppm: number;
}

const MASK = 2 ** 14 - 1;
const RATE_HZ = 48000;
const TRUE_CLOCK: RackClock = { rate: RATE_HZ, ppm: 0 };

interface Bus {
  left: Float32Array;
  right: Float32Array;
  now: { left: Float32Array; right: Float32Array };
  clock: RackClock;
  /** Who captures here, and how far. */
  ring: SoundRing | null;
  at: number;
}

interface Running {
  program: RackProgram;
  farEnd: FarEnd;
  said: Float32Array;
}

/**
 * Made-up cables as real ones behave: whatever is played into a cable, by the desk or by an outside program, comes out of its
 * other end. Each device may have a clock or a rate of its own; what is captured there is then resampled as a device would.
 */
export class DeviceRack {
  readonly #length: number;
  readonly #buses = new Map<RackDevice, Bus>();
  readonly #outlets = new Map<string, { device: RackDevice; bridge: ClockBridge; offset: DelayLine }>();
  readonly #mono: Float32Array;
  readonly #heard: { left: Float32Array; right: Float32Array };
  readonly #resampler = ringResampler();
  readonly #pieceLeft: Float32Array;
  readonly #pieceRight: Float32Array;
  #programs: Running[] = [];
  #tone: { device: RackDevice; samples: Float32Array; at: number } | null = null;
  #clock = 0;

  constructor(maxBlock: number) {
    this.#length = maxBlock;
    this.#mono = new Float32Array(maxBlock);
    this.#heard = { left: new Float32Array(maxBlock), right: new Float32Array(maxBlock) };
    this.#pieceLeft = new Float32Array(4 * maxBlock);
    this.#pieceRight = new Float32Array(4 * maxBlock);
    for (const device of RACK_DEVICES) {
      const side = () => new Float32Array(MASK + 1);
      this.#buses.set(device, { left: side(), right: side(), now: { left: new Float32Array(maxBlock), right: new Float32Array(maxBlock) }, clock: TRUE_CLOCK, ring: null, at: 0 });
    }
  }

  /** Somebody captures a device from now on; null for nobody. */
  capture(device: RackDevice, ring: SoundRing | null): void {
    const bus = this.#bus(device);
    bus.ring = ring;
    bus.at = Math.max(0, this.#clock - SINC_REACH);
    if (ring) ring.counters[RATE] = bus.clock.rate;
  }

  /** A mix is played into a device from now on; null for no longer. */
  play(id: string, device: RackDevice, ring: SoundRing | null): void {
    if (ring) this.#outlets.set(id, { device, bridge: new ClockBridge(ring, RATE_HZ), offset: new DelayLine(RATE_HZ * (MOST_OFFSET_MS / 1000), RATE_HZ) });
    else this.#outlets.delete(id);
  }

  /** A mix is so much later from now on, ms. */
  offset(id: string, offsetMs: number): void {
    this.#outlets.get(id)?.offset.set(Math.round((offsetMs / 1000) * RATE_HZ));
  }

  /** Plays a sound into a device once, beside everything else. */
  tone(device: RackDevice, samples: Float32Array): void {
    this.#tone = { device, samples, at: 0 };
  }

  setClock(device: RackDevice, clock: RackClock): void {
    const bus = this.#bus(device);
    bus.clock = clock;
    if (bus.ring) bus.ring.counters[RATE] = clock.rate;
  }

  setPrograms(programs: readonly RackProgram[]): void {
    this.#programs = programs.map((program) => ({ program, farEnd: createFarEnd({ ...program, maxBlock: this.#length }), said: new Float32Array(this.#length) }));
  }

  /** One block of everything. `nowMs` is noted where something is captured. */
  step(length: number, nowMs: number): void {
    for (const { now } of this.#buses.values()) {
      now.left.fill(0);
      now.right.fill(0);
    }
    for (const { device, bridge, offset } of this.#outlets.values()) {
      bridge.read(this.#heard.left, this.#heard.right, length, this.#clock, nowMs);
      if (!offset.idle) offset.process(this.#heard, this.#heard, length);
      this.#add(device, this.#heard.left, this.#heard.right, length);
    }
    this.#playTone(length);
    for (const { program, said } of this.#programs) this.#add(program.speaksInto, said, said, length);
    for (const { program, farEnd, said } of this.#programs) {
      const { left, right } = this.#bus(program.hears).now;
      for (let i = 0; i < length; i++) this.#mono[i] = 0.5 * (left[i] + right[i]);
      farEnd.process(this.#mono, said, length);
    }
    for (const bus of this.#buses.values()) this.#keep(bus, length, nowMs);
    this.#clock += length;
  }

  #playTone(length: number): void {
    const tone = this.#tone;
    if (!tone) return;
    const { left, right } = this.#bus(tone.device).now;
    const count = Math.min(length, tone.samples.length - tone.at);
    for (let i = 0; i < count; i++) {
      left[i] += tone.samples[tone.at + i];
      right[i] += tone.samples[tone.at + i];
    }
    tone.at += count;
    if (tone.at >= tone.samples.length) this.#tone = null;
  }

  #add(device: RackDevice, left: Float32Array, right: Float32Array, length: number): void {
    const { now } = this.#bus(device);
    for (let i = 0; i < length; i++) {
      now.left[i] += left[i];
      now.right[i] += right[i];
    }
  }

  #keep(bus: Bus, length: number, nowMs: number): void {
    for (let i = 0; i < length; i++) {
      bus.left[(this.#clock + i) & MASK] = bus.now.left[i];
      bus.right[(this.#clock + i) & MASK] = bus.now.right[i];
    }
    const { ring, clock } = bus;
    if (!ring) return;
    if (clock.rate === RATE_HZ && clock.ppm === 0) writeSound(ring, bus.now.left, bus.now.right, length, nowMs);
    else this.#resampled(bus, ring, this.#clock + length, nowMs);
  }

  #resampled(bus: Bus, ring: SoundRing, until: number, nowMs: number): void {
    const step = RATE_HZ / (bus.clock.rate * (1 + bus.clock.ppm / 1e6));
    let count = 0;
    for (let at = bus.at; at + SINC_REACH < until && count < this.#pieceLeft.length; at += step) count++;
    bus.at = this.#resampler.read(bus.left, bus.right, bus.at, step, this.#pieceLeft, this.#pieceRight, count);
    writeSound(ring, this.#pieceLeft, this.#pieceRight, count, nowMs);
  }

  #bus(device: RackDevice): Bus {
    return this.#buses.get(device)!;
  }
}
