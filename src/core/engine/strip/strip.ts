import { PeakLimiter, LIMITER_DELAY } from '../../dsp/true-peak-limiter';
import { equaliserFilters, lowCutFilters } from '../../strip/curves';
import { CLOSED_STRIP, type StripSettings } from '../../strip/settings';
import type { Kernel, KernelStereo } from '../../kernel/kernel';
import type { Stereo } from '../../kernel/stereo';
import { CompressorLaw, LEVEL_SECONDS } from './compressor';
import { DeEsser } from './de-esser';
import { FilterBank, filterBankBytes } from './filter-bank';
import { GateLaw, GATE_LEVEL_SECONDS } from './gate';
import { Switched, type Insert } from './insert';
import { NoiseSuppression, type Suppressor } from './noise-suppression';
import { SteppedGain } from './stepped-gain';

const BANDS = CLOSED_STRIP.equaliser.bands.length;

/** Memory of the kernel that a strip takes, bytes. */
export const STRIP_BYTES = filterBankBytes(1) + filterBankBytes(BANDS);

/** The most each insert turned a voice down lately, dB, 0 or below. */
export interface StripReduction {
  gateDb: number;
  compressorDb: number;
  deEsserDb: number;
  limiterDb: number;
}

class Limiting implements Insert {
  readonly delay = LIMITER_DELAY;
  readonly limiter: PeakLimiter;
  readonly #sides: Float32Array[] = [new Float32Array(0), new Float32Array(0)];

  constructor(maxBlock: number) {
    this.limiter = new PeakLimiter(2, CLOSED_STRIP.limiter.ceilingDb, maxBlock);
  }

  reset(): void {
    this.limiter.reset();
  }

  process({ left, right }: Stereo, length: number): void {
    this.#sides[0] = left;
    this.#sides[1] = right;
    this.limiter.process(this.#sides, this.#sides, length);
  }
}

/** A voice on its way into the mixes: an ordered chain of inserts. Each that is off costs nothing. */
export class Strip {
  readonly #sampleRate: number;
  readonly #lowCut: FilterBank;
  readonly #noise: NoiseSuppression;
  readonly #gate: GateLaw;
  readonly #equaliser: FilterBank;
  readonly #compressor: CompressorLaw;
  readonly #deEsser: DeEsser;
  readonly #limiting: Limiting;
  readonly #switches: Record<'noise' | 'gate' | 'compressor' | 'deEsser' | 'limiter', Switched>;
  #settings = CLOSED_STRIP;

  constructor(kernel: Kernel, maxBlock: number, sampleRate: number) {
    this.#sampleRate = sampleRate;
    this.#lowCut = new FilterBank(kernel, 1, sampleRate);
    this.#equaliser = new FilterBank(kernel, BANDS, sampleRate);
    this.#noise = new NoiseSuppression();
    this.#gate = new GateLaw(sampleRate);
    this.#compressor = new CompressorLaw(sampleRate);
    this.#deEsser = new DeEsser(sampleRate);
    this.#limiting = new Limiting(maxBlock);
    const switched = (insert: Insert) => new Switched(insert, sampleRate);
    this.#switches = {
      noise: switched(this.#noise),
      gate: switched(new SteppedGain(this.#gate, GATE_LEVEL_SECONDS, sampleRate)),
      compressor: switched(new SteppedGain(this.#compressor, LEVEL_SECONDS, sampleRate)),
      deEsser: switched(this.#deEsser),
      limiter: switched(this.#limiting),
    };
  }

  /** Other settings; nothing steps. */
  set(settings: StripSettings): void {
    const { gate, compressor, deEsser, limiter } = settings;
    this.#settings = settings;
    this.#lowCut.set(lowCutFilters(settings.lowCut, this.#sampleRate));
    this.#equaliser.set(equaliserFilters(settings.equaliser, this.#sampleRate));
    this.#gate.set(gate);
    this.#compressor.set(compressor);
    if (deEsser.on) this.#deEsser.set(deEsser);
    this.#limiting.limiter.setCeiling(limiter.ceilingDb);
    this.#switches.noise.set(settings.noise.on && this.#noise.ready());
    for (const name of ['gate', 'compressor', 'deEsser', 'limiter'] as const) this.#switches[name].set(settings[name].on);
  }

  /** What takes noise out of this voice from now on. */
  suppressWith(suppressor: Suppressor, phase: number): void {
    this.#noise.use(suppressor, phase);
    this.#switches.noise.set(this.#settings.noise.on && this.#noise.ready());
  }

  /** Whether what comes out would be what goes in. */
  atRest(): boolean {
    const { noise, gate, compressor, deEsser, limiter } = this.#switches;
    return this.#lowCut.atRest() && this.#equaliser.atRest() && noise.atRest() && gate.atRest() && compressor.atRest() && deEsser.atRest() && limiter.atRest();
  }

  /** @param scratch room of the kernel’s, overwritten */
  process(input: KernelStereo, output: KernelStereo, scratch: KernelStereo, length: number): void {
    const { noise, gate, compressor, deEsser, limiter } = this.#switches;
    this.#lowCut.process(input, output, scratch, length);
    noise.process(output, scratch, length);
    gate.process(output, scratch, length);
    this.#equaliser.process(output, output, scratch, length);
    compressor.process(output, scratch, length);
    deEsser.process(output, scratch, length);
    limiter.process(output, scratch, length);
  }

  /** What each insert turned down since this was last read. */
  readReduction(into: StripReduction): void {
    into.gateDb = this.#switches.gate.atRest() ? 0 : this.#gate.takeLeastDb();
    into.compressorDb = this.#switches.compressor.atRest() ? 0 : this.#compressor.takeLeastDb();
    into.deEsserDb = this.#switches.deEsser.atRest() ? 0 : this.#deEsser.takeLeastDb();
    into.limiterDb = this.#switches.limiter.atRest() ? 0 : 20 * Math.log10(this.#limiting.limiter.takeLeast());
  }
}
