import type { Alignment } from '../alignment/align-home';
import type { HomeAndLine } from '../practice/home-and-line';

/** An alignment against what is known of both recordings. */
export interface JudgedAlignment {
  driftErrorPpm: number;
  /** Of the moments at which somebody spoke and the line worked: where the line was matched more than 1 ms wrong, as a share, and the worst of the others. */
  wrongShare: number;
  worstOfTheRestMs: number;
  /** The placed recording against the moment it was spoken: how late it is, and how far that moves over the whole. */
  latenessMs: number;
  latenessMovesMs: number;
  /** Packets that were lost while somebody spoke, and how many of them are listed as better at home. */
  lostPackets: number;
  listedPackets: number;
  /** Listed though nothing was lost, s. */
  listedNeedlesslySeconds: number;
}

const STEP = 960;
const PER_MS = 48;
const SPOKEN_POWER = 1e-4;

export function judgeAlignment(two: HomeAndLine, { stretches, clock, placement, better }: Alignment, ppm: number): JudgedAlignment {
  let moments = 0;
  let wrong = 0;
  let worst = 0;
  let lost = 0;
  let listed = 0;
  let earliest = Infinity;
  let latest = -Infinity;
  const isListed = (at: number) => better.some(({ atSample, lengthSamples }) => at >= atSample && at < atSample + lengthSamples);
  for (let at = STEP; at + STEP < two.lineSamples; at += STEP) {
    const middle = at + STEP / 2;
    const piece = placement.pieces.find(({ from, to }) => middle >= from && middle < to)!;
    const late = (two.spokenAt(middle) - placement.homeAt(piece, middle)) / PER_MS;
    earliest = Math.min(earliest, late);
    latest = Math.max(latest, late);
    if (power(two.home(Math.round(two.homeAt(at)), STEP)) < SPOKEN_POWER) continue;
    if (two.isLost(middle)) {
      lost++;
      if (isListed(middle)) listed++;
      continue;
    }
    const stretch = stretches.find(({ from, to }) => middle >= from && middle < to)!;
    const error = Math.abs(middle + stretch.offset + clock.ahead(middle) - two.homeAt(middle)) / PER_MS;
    moments++;
    if (error > 1) wrong++;
    else worst = Math.max(worst, error);
  }
  let needless = 0;
  for (const { atSample, lengthSamples } of better) for (let at = atSample; at < atSample + lengthSamples; at += PER_MS) if (!two.isLost(at)) needless += PER_MS;
  return {
    driftErrorPpm: clock.driftPpm - ppm,
    wrongShare: wrong / moments,
    worstOfTheRestMs: worst,
    latenessMs: (earliest + latest) / 2,
    latenessMovesMs: latest - earliest,
    lostPackets: lost,
    listedPackets: listed,
    listedNeedlesslySeconds: needless / 48000,
  };
}

function power(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i] * samples[i];
  return sum / samples.length;
}
