/// <reference types="audioworklet" />
import { soundRing } from '@/core/dsp/sound-ring';
import { DeviceRack } from '@/core/practice/rack';
import { RACK_PROCESSOR, type ToRack } from './outlet-messages';

/** The made-up devices, in a thread and with a clock of their own. */
class RackProcessor extends AudioWorkletProcessor {
  readonly #rack = new DeviceRack(128);

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<ToRack>) => {
      switch (data.type) {
        case 'capture':
          return this.#rack.capture(data.device, data.ring && soundRing(data.ring));
        case 'play':
          return this.#rack.play(data.id, data.device, data.ring && soundRing(data.ring));
        case 'offset':
          return this.#rack.offset(data.id, data.offsetMs);
        case 'programs':
          return this.#rack.setPrograms(data.programs);
        case 'tone':
          return this.#rack.tone(data.device, data.samples);
        case 'clock':
          return this.#rack.setClock(data.device, data.clock);
      }
    };
  }

  process(_: Float32Array[][], [[left]]: Float32Array[][]): boolean {
    this.#rack.step(left.length, Date.now());
    return true;
  }
}

registerProcessor(RACK_PROCESSOR, RackProcessor);
