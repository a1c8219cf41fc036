import { powerToDb } from '../dsp/decibels';
import { MeasuringRoom } from '../kernel/measuring';
import { mean } from './mean';
import { DIGITAL_SILENCE_DB } from './noise-floor';

const RATE = 48000;
const HUM_HARMONICS = [1, 2, 3];
/** Hum must stand this far above what is beside it, and above this level, to be called hum. */
const HUM_PROMINENCE_DB = 12;
const HUM_AT_LEAST_DB = -85;
/** For 50 and 60 Hz: each harmonic and what lies 4 Hz to either side of it. */
const HUM_FREQUENCIES = [50, 60].flatMap((base) => HUM_HARMONICS.flatMap((k) => [k * base, k * base - 4, k * base + 4]));

const STEPS = HUM_FREQUENCIES.map((hz) => 2 * Math.cos((2 * Math.PI * hz) / RATE));
/** The kernel looks for so many at once. */
const AT_ONCE = 6;

function openRoom() {
  const measuring = new MeasuringRoom();
  const places = { second: measuring.reserve(RATE * 4), window: measuring.reserve(RATE * 4), steps: measuring.reserve(STEPS.length * 8), last: measuring.reserve(2 * AT_ONCE * 8) };
  measuring.floats(places.window, RATE).set(HANN);
  measuring.doubles(places.steps, STEPS.length).set(STEPS);
  return { measuring, ...places };
}

let room: ReturnType<typeof openRoom> | null = null;

/** Mean power of the sinusoids at all these frequencies in one second under a Hann window (Goertzel, 1958). */
function humPowers(second: Float32Array): number[] {
  const { measuring, second: from, window, steps, last } = (room ??= openRoom());
  measuring.floats(from, RATE).set(second);
  const powers: number[] = [];
  for (let k = 0; k < STEPS.length; k += AT_ONCE) {
    measuring.functions.goertzelSix(from, window, RATE, steps + k * 8, last);
    const values = measuring.doubles(last, 2 * AT_ONCE);
    for (let j = 0; j < AT_ONCE; j++) {
      const [s1, s2] = [values[j], values[AT_ONCE + j]];
      const magnitude = s1 * s1 + s2 * s2 - STEPS[k + j] * s1 * s2;
      // A sine of amplitude a gives (a · length / 4)² under this window; its power is a² / 2.
      powers.push((magnitude * 16) / (RATE * RATE) / 2);
    }
  }
  return powers;
}

const HANN = Float32Array.from({ length: RATE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / RATE));

/** Quiet seconds are those within this above the noise. */
const QUIET_ABOVE_NOISE_DB = 10;

/** Mains hum and its harmonics. */
export interface Hum {
  hz: 50 | 60;
  db: number;
}

/** Looks for hum in the quiet seconds of a track. */
export function createHumFinder() {
  /** Seconds that may be quiet, with the power at every looked-at frequency. */
  const seconds: { levelDb: number; powers: number[] }[] = [];
  const isQuiet = (levelDb: number, floorDb: number) => levelDb < floorDb + QUIET_ABOVE_NOISE_DB;
  return {
    /** @param floorDb the noise so far: it only falls, so what is loud against it stays loud, and needs no look */
    push(second: Float32Array, power: number, floorDb: number | null): void {
      const levelDb = powerToDb(power);
      if (levelDb <= DIGITAL_SILENCE_DB || (floorDb !== null && !isQuiet(levelDb, floorDb))) return;
      seconds.push({ levelDb, powers: humPowers(second) });
    },
    result(floorDb: number | null): Hum | null {
      if (floorDb === null) return null;
      const quiet = seconds.filter(({ levelDb }) => isQuiet(levelDb, floorDb));
      if (quiet.length === 0) return null;
      const powerIn = (place: number) => mean(quiet.map(({ powers }) => powers[place]));
      const candidates = ([50, 60] as const).map((hz, family) => {
        let hum = 0;
        let beside = 0;
        HUM_HARMONICS.forEach((_, k) => {
          const place = (family * HUM_HARMONICS.length + k) * 3;
          hum += powerIn(place);
          beside += (powerIn(place + 1) + powerIn(place + 2)) / 2;
        });
        return { hz, db: powerToDb(hum), prominence: powerToDb(hum) - powerToDb(beside) };
      });
      const [strongest] = candidates.sort((a, b) => b.db - a.db);
      if (!(strongest.prominence > HUM_PROMINENCE_DB && strongest.db > HUM_AT_LEAST_DB)) return null;
      return { hz: strongest.hz, db: strongest.db };
    },
  };
}
