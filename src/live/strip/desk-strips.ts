import { NoiseSuppressionLoader } from './noise-suppression';
import { StripComparison } from './strip-comparison';
import type { StripDesk } from './strip-desk';
import { StripSetter } from './strip-setter';

/** What is done to voices at this desk, beside the plan: setting by listening, comparing, and what noise suppression needs. */
export class DeskStrips {
  readonly setter: StripSetter;
  readonly comparison: StripComparison;
  readonly noise: NoiseSuppressionLoader;

  constructor(desk: StripDesk) {
    this.setter = new StripSetter(desk);
    this.comparison = new StripComparison(desk);
    this.noise = new NoiseSuppressionLoader(desk);
  }
}
