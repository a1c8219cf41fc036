import { NOISE_FRAME, type Suppressor } from '../engine/strip/noise-suppression';
import { createRandom } from '../random';

const BLOCK = 128;
const RATE = 48_000;
/** Of a block's time, so much may go into frames: the rest is the mixes'. */
const SHARE_OF_BLOCK = 0.25;
/** One voice is always tried for as long as its frame does not fill half a block. */
const SHARE_FOR_ONE = 0.5;
const WARMING = 60;
const TIMED = 200;

/**
 * For how many voices noise can be suppressed here without a block being late. Frames of different voices end in different
 * blocks: 3.75 blocks to a frame.
 * @param now in ms
 */
export function voicesInTime(suppressor: Suppressor, now: () => number): number {
  const random = createRandom(1);
  const frame = new Float32Array(NOISE_FRAME);
  const times: number[] = [];
  for (let k = 0; k < WARMING + TIMED; k++) {
    for (let i = 0; i < NOISE_FRAME; i++) frame[i] = 0.05 * random.normal();
    const began = now();
    suppressor.process(frame);
    if (k >= WARMING) times.push(now() - began);
  }
  return voicesFor(times.sort((a, b) => a - b)[TIMED / 2]);
}

/** @param frameMs time a frame of 10 ms takes */
export function voicesFor(frameMs: number): number {
  const blockMs = (BLOCK * 1000) / RATE;
  const framesInBlock = Math.floor((SHARE_OF_BLOCK * blockMs) / frameMs);
  if (framesInBlock === 0) return frameMs < SHARE_FOR_ONE * blockMs ? 1 : 0;
  return Math.floor((framesInBlock * NOISE_FRAME) / BLOCK);
}
