import { powerToDb } from '../dsp/decibels';
import { mean } from './mean';
import { DIGITAL_SILENCE_DB } from './noise-floor';

const RATE = 48000;
const HUM_HARMONICS = [1, 2, 3];
/** Hum must stand this far above what is beside it, and above this level, to be called hum. */
const HUM_PROMINENCE_DB = 12;
const HUM_AT_LEAST_DB = -85;
/** For 50 and 60 Hz: each harmonic and what lies 4 Hz to either side of it. */
const HUM_FREQUENCIES = [50, 60].flatMap((base) => HUM_HARMONICS.flatMap((k) => [k * base, k * base - 4, k * base + 4]));

/** Mean power of the sinusoid at a frequency in one second under a Hann window (Goertzel, 1958). */
function powerAt(second: Float32Array, hz: number): number {
  const step = 2 * Math.cos((2 * Math.PI * hz) / RATE);
  let s1 = 0;
  let s2 = 0;
  for (let i = 0; i < second.length; i++) {
    const s0 = second[i] * HANN[i] + step * s1 - s2;
    s2 = s1;
    s1 = s0;
  }
  const magnitude = s1 * s1 + s2 * s2 - step * s1 * s2;
  // A sine of amplitude a gives (a · length / 4)² under this window; its power is a² / 2.
  return (magnitude * 16) / (second.length * second.length) / 2;
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
      seconds.push({ levelDb, powers: HUM_FREQUENCIES.map((hz) => powerAt(second, hz)) });
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
