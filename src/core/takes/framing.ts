import { dbToGain } from '../dsp/decibels';
import { SAMPLE_RATE } from './chunks';

/** Where a sound at an end of a finished mix lies: `alone` before or after it, or `under` its beginning or end as well. */
export const FRAME_WAYS = ['alone', 'under'] as const;
export type FrameWay = (typeof FRAME_WAYS)[number];

/** A sound of a length, samples at 48 kHz, and how it lies. */
export interface FrameSound {
  lengthSamples: number;
  way: FrameWay;
}

/** How far and how fast a sound goes under the talk, and out. */
export interface UnderTalk {
  underDb: number;
  underSeconds: number;
  outSeconds: number;
}

/** Where everything lies, samples from the beginning of the whole. */
export interface Framing {
  talkFrom: number;
  talkTo: number;
  closingFrom: number;
  lengthSamples: number;
}

/** An opening is alone for so long before the talk comes in over it, and a closing lies under so much of it, at most, s. */
const ALONE_SECONDS = 6;
const UNDER_END_SECONDS = 10;

/** Lays an opening and a closing around a talk of a length. */
export function frame(talkSamples: number, opening: FrameSound | null, closing: FrameSound | null): Framing {
  const talkFrom = opening === null ? 0 : opening.way === 'alone' ? opening.lengthSamples : Math.min(ALONE_SECONDS * SAMPLE_RATE, Math.floor(opening.lengthSamples / 2));
  const talkTo = talkFrom + talkSamples;
  const under = closing?.way === 'under' ? Math.min(UNDER_END_SECONDS * SAMPLE_RATE, Math.floor(closing.lengthSamples / 2), Math.floor(talkSamples / 2)) : 0;
  const closingFrom = talkTo - under;
  const openingTo = opening?.lengthSamples ?? 0;
  return { talkFrom, talkTo, closingFrom, lengthSamples: Math.max(talkTo, openingTo, closing ? closingFrom + closing.lengthSamples : 0) };
}

/** From 0 to 1 along a quarter of a sine, so that nothing steps. */
const along = (share: number): number => Math.sin((Math.PI / 2) * Math.max(0, Math.min(1, share)));

/** Gain of the opening at a sample of the whole: full, then under the talk, then out. */
export function openingGain(sample: number, opening: FrameSound, { talkFrom }: Framing, { underDb, underSeconds, outSeconds }: UnderTalk): number {
  if (opening.way === 'alone') return 1;
  const under = dbToGain(underDb);
  const down = along((sample - (talkFrom - underSeconds * SAMPLE_RATE)) / (underSeconds * SAMPLE_RATE));
  return (1 + (under - 1) * down) * along((opening.lengthSamples - sample) / (outSeconds * SAMPLE_RATE));
}

/** Gain of the closing: under the end of the talk from nothing, and full when that is over. */
export function closingGain(sample: number, closing: FrameSound, { closingFrom, talkTo }: Framing, { underDb, underSeconds }: UnderTalk): number {
  if (closing.way === 'alone') return 1;
  const under = dbToGain(underDb);
  const up = along((sample - talkTo) / (underSeconds * SAMPLE_RATE));
  return (under + (1 - under) * up) * along((sample - closingFrom) / (underSeconds * SAMPLE_RATE));
}
