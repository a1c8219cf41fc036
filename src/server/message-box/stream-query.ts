import { z } from '@/core/zod';
import type { Querier } from '../database';
import { HttpError } from '../http/errors';
import { recentMessages } from './queries';

/** Above the longest session description with everything around it. */
export const LONGEST_MESSAGE = 48_000;

/** Which window asks for its messages. */
export const streamQuery = z.object({ window: z.uuid() });

/**
 * Where a stream goes on: after the last message its reader has, when the reader was only cut off;
 * a new reader begins with what comes from now on.
 */
export function resumeAfter(request: Request, now: number): number {
  const last = Number(request.headers.get('last-event-id') ?? NaN);
  return Number.isSafeInteger(last) && last >= 0 ? Math.min(last, now) : now;
}

/** More than a desk with sixteen guests who all come at once. */
const MOST = 600;
const SECONDS = 10;

/** @throws {HttpError} 429 when a sender floods the box */
export async function limitMessages(db: Querier, episode: string, sender: string): Promise<void> {
  if ((await recentMessages(db, episode, sender, SECONDS)) >= MOST) {
    throw new HttpError(429, 'too-many', 'Too many messages at once. Wait a few seconds.');
  }
}
