import { z } from '@/core/zod';

/** The ids in the addresses of route handlers. */
export const episodeParams = z.object({ episode: z.uuid() });
export const takeParams = z.object({ take: z.uuid() });
export const taskParams = takeParams.extend({ task: z.uuid() });
export const trackParams = takeParams.extend({ track: z.uuid() });
/** Two weeks of chunks of 2 s: far beyond any take. */
export const MOST_CHUNKS = 604_800;
export const chunkParams = trackParams.extend({ index: z.coerce.number().int().min(0).max(MOST_CHUNKS) });
/** A guest's own recording; a day in chunks of 0.25 s. */
export const homeParams = z.object({ home: z.uuid() });
export const homeChunkParams = homeParams.extend({ index: z.coerce.number().int().min(0).max(345_600) });
export const showParams = z.object({ show: z.uuid() });
export const seatParams = episodeParams.extend({ seat: z.string().regex(/^[a-z0-9-]{1,40}$/) });
/** One stretch of an episode on the air. */
export const broadcastParams = episodeParams.extend({ broadcast: z.uuid() });
export const noParams = z.object({});
