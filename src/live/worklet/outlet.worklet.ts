/// <reference types="audioworklet" />
import type { OutputChannels } from '@/core/devices/device';
import { ClockBridge } from '@/core/dsp/clock-bridge';
import { soundRing } from '@/core/dsp/sound-ring';
import { OUTLET_PROCESSOR, type OutletOptions, type ToOutlet } from './outlet-messages';

/** Brings a mix to one output, by that output's own clock, and now and then a tone that the host asked for. */
class OutletProcessor extends AudioWorkletProcessor {
  readonly #bridge: ClockBridge;
  #channels: OutputChannels;
  #tone: Float32Array | null = null;
  #toneAt = 0;
  #closed = false;

  constructor({ processorOptions }: { processorOptions: OutletOptions }) {
    super();
    this.#bridge = new ClockBridge(soundRing(processorOptions.ring), sampleRate, processorOptions.marginSeconds);
    this.#channels = processorOptions.channels;
    this.port.onmessage = ({ data }: MessageEvent<ToOutlet>) => {
      if (data.type === 'close') this.#closed = true;
      else if (data.type === 'channels') this.#channels = data.channels;
      else {
        this.#tone = data.samples;
        this.#toneAt = 0;
      }
    };
  }

  process(_: Float32Array[][], [[left, right]]: Float32Array[][]): boolean {
    if (this.#closed) return false;
    this.#bridge.read(left, right, left.length, currentFrame, Date.now());
    this.#playTone(left, right);
    if (this.#channels === 'stereo') return true;
    const [kept, silent] = this.#channels === 'left' ? [left, right] : [right, left];
    for (let i = 0; i < kept.length; i++) {
      kept[i] = 0.5 * (left[i] + right[i]);
      silent[i] = 0;
    }
    return true;
  }

  #playTone(left: Float32Array, right: Float32Array): void {
    if (!this.#tone) return;
    const count = Math.min(left.length, this.#tone.length - this.#toneAt);
    for (let i = 0; i < count; i++) {
      left[i] += this.#tone[this.#toneAt + i];
      right[i] += this.#tone[this.#toneAt + i];
    }
    this.#toneAt += count;
    if (this.#toneAt >= this.#tone.length) this.#tone = null;
  }
}

registerProcessor(OUTLET_PROCESSOR, OutletProcessor);
