/** A clock that is so far ahead or behind, and by so much more than it wanders, is taken to run apart. Until then samples pass untouched. */
const APART_SECONDS = 0.008;
const APART_DEVIATIONS = 4;
/** How far back its way is kept; what shows within a minute is believed first. */
const LOOK_BACK_SECONDS = 600;
const SOON_SECONDS = 60;
const LEAST_SECONDS = 18;
/** A difference of clocks is said when it is known so well. */
const KNOWN = 25e-6;
const MOST_DRIFT = 0.005;

interface Line {
  /** Share by which the clock is faster, and its standard error. */
  slope: number;
  error: number;
  count: number;
  /** Standard deviation of the way from the line, seconds. */
  wander: number;
}

function isTrend({ slope, count, wander }: Line): boolean {
  const gone = Math.abs(slope * count);
  // A clock that is far off needs less time to be believed.
  const evident = count >= LEAST_SECONDS / 3 && gone > 2 * APART_SECONDS && gone > 2 * APART_DEVIATIONS * wander;
  return evident || (count >= LEAST_SECONDS && gone > APART_SECONDS && gone > APART_DEVIATIONS * wander);
}

/**
 * Learns by how much one clock is faster than another: the slope of a straight line (least squares) through the way it went
 * ahead, second by second. A way that wanders is no clock that runs apart.
 */
export class ClockWay {
  /** How far ahead the clock was after each second, seconds. */
  readonly #way = new Float64Array(LOOK_BACK_SECONDS);
  #seconds = 0;
  #ahead = 0;
  #apart = false;
  #drift = 0;
  #known = NaN;
  /** Filled anew each second: nothing is allocated in the audio thread. */
  readonly #soon: Line = { slope: 0, error: Infinity, count: 0, wander: 0 };
  readonly #long: Line = { slope: 0, error: Infinity, count: 0, wander: 0 };

  /** By how much it is faster, as a share; 0 while it is not seen to run apart. */
  get drift(): number {
    return this.#drift;
  }

  /** The same as far as it can be told, whether it needs evening out or not; NaN until it is known to 25 ppm. */
  get known(): number {
    return this.#known;
  }

  /** Takes one more second. @param gained how far it went ahead in it, seconds */
  learn(gained: number): void {
    this.#ahead += gained;
    this.#way[this.#seconds++ % LOOK_BACK_SECONDS] = this.#ahead;
    const soon = this.#fit(this.#soon, Math.min(this.#seconds, SOON_SECONDS));
    const long = this.#fit(this.#long, Math.min(this.#seconds, LOOK_BACK_SECONDS));
    // A crystal keeps its pace: the longer look is the surer one, unless the last minute plainly says something else.
    const agree = Math.abs(long.slope - soon.slope) < 3 * soon.error;
    const best = isTrend(soon) && !(agree && isTrend(long)) ? soon : isTrend(long) ? long : null;
    if (best || long.error < KNOWN) this.#known = (best ?? long).slope;
    if (best) this.#apart = true;
    // It was something that happened once.
    else if (this.#seconds >= SOON_SECONDS) this.#apart = false;
    this.#drift = this.#apart ? Math.max(-MOST_DRIFT, Math.min(MOST_DRIFT, (best ?? soon).slope)) : 0;
  }

  /** A straight line through the last seconds of the way. */
  #fit(line: Line, count: number): Line {
    let sumY = 0;
    let sumXY = 0;
    const middle = (count - 1) / 2;
    for (let k = 0; k < count; k++) {
      const y = this.#at(count, k);
      sumY += y;
      sumXY += (k - middle) * y;
    }
    const sumXX = (count * (count * count - 1)) / 12;
    const slope = count > 1 ? sumXY / sumXX : 0;
    let squares = 0;
    for (let k = 0; k < count; k++) squares += (this.#at(count, k) - sumY / count - slope * (k - middle)) ** 2;
    line.slope = slope;
    line.count = count;
    line.wander = Math.sqrt(squares / Math.max(1, count - 2));
    line.error = count > 2 ? line.wander / Math.sqrt(sumXX) : Infinity;
    return line;
  }

  #at(count: number, k: number): number {
    return this.#way[(this.#seconds - count + k) % LOOK_BACK_SECONDS];
  }
}
