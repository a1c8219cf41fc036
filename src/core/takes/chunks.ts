/** Every chunk but the last of a track holds this many frames: 2 s at 48 kHz. */
export const CHUNK_FRAMES = 96000;

/** A home recording is sent in smaller ones, so that none holds up the voice on a narrow line: 0.25 s. */
export const HOME_CHUNK_FRAMES = 12000;

export const SAMPLE_RATE = 48000;

/** How many chunks a track of this length has. */
export function chunkCount(lengthSamples: number): number {
  return Math.ceil(lengthSamples / CHUNK_FRAMES);
}

/** How many frames chunk `index` of a track of this length holds. */
export function chunkFrames(lengthSamples: number, index: number): number {
  return Math.max(0, Math.min(CHUNK_FRAMES, lengthSamples - index * CHUNK_FRAMES));
}
