import { ClockBridge } from '@/core/dsp/clock-bridge';
import { soundRing, writeSound, type SoundRing } from '@/core/dsp/sound-ring';
import { mapChannels, type InputChannels } from '@/core/devices/device';
import type { Engine } from '@/core/engine/engine';

interface DevicePort {
  bridge: ClockBridge;
  channels: InputChannels;
}

/** What comes from devices into the engine, and what leaves it for devices, each by a ring to a thread with another clock. */
export class DevicePorts {
  readonly #sampleRate: number;
  readonly #devices: (DevicePort | null)[] = [];
  readonly #outlets: (SoundRing | null)[] = [];
  readonly #silence: Float32Array;
  #sources: readonly number[] = [];
  #listeners: readonly number[] = [];

  constructor(maxBlock: number, sampleRate: number) {
    this.#sampleRate = sampleRate;
    this.#silence = new Float32Array(maxBlock);
  }

  plug(port: number, memory: SharedArrayBuffer | null, channels: InputChannels): void {
    this.#devices[port] = memory && { bridge: new ClockBridge(soundRing(memory), this.#sampleRate), channels };
  }

  carry(port: number, memory: SharedArrayBuffer | null): void {
    this.#outlets[port] = memory && soundRing(memory);
  }

  /** Which source each device feeds, and which listener each outlet carries; −1 for none. */
  setPlaces(sources: readonly number[], listeners: readonly number[]): void {
    this.#sources = sources;
    this.#listeners = listeners;
  }

  take(engine: Engine, length: number): void {
    const clock = engine.clock();
    const now = Date.now();
    for (let port = 0; port < this.#devices.length; port++) {
      const device = this.#devices[port];
      const slot = this.#sources[port] ?? -1;
      if (!device || slot < 0) continue;
      const { left, right } = engine.inputs[slot];
      if (device.bridge.read(left, right, length, clock, now)) mapChannels(device.channels, left, right, length);
    }
  }

  give(engine: Engine, length: number): void {
    const now = Date.now();
    for (let port = 0; port < this.#outlets.length; port++) {
      const ring = this.#outlets[port];
      if (!ring) continue;
      const slot = this.#listeners[port] ?? -1;
      // Silence, too, is written: an outlet that gets nothing takes it for a fault.
      if (slot < 0) writeSound(ring, this.#silence, this.#silence, length, now);
      else writeSound(ring, engine.outputs[slot].left, engine.outputs[slot].right, length, now);
    }
  }
}
