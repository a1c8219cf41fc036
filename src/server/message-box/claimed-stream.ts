import { randomUUID } from 'node:crypto';
import type pg from 'pg';
import { requireOwnPage } from '../http/access';
import { HttpError } from '../http/errors';
import { claimWindow, keepWindow, releaseWindow, type Claim } from '../windows/queries';
import { messageStream, refusal } from './stream';
import { resumeAfter } from './stream-query';

export interface ClaimedStream {
  request: Request;
  claim: Omit<Claim, 'stream'>;
  greeting(): Promise<object>;
  renew(): object;
  /** Asked at every beat: whoever may not any more loses the place. */
  mayStay(): Promise<boolean>;
}

/**
 * The messages of a party for the window that has its place, for as long as it has it. A window that
 * cannot have it is told in the stream: that is an ordinary answer, not a fault of the request.
 */
export async function claimedStream(pool: pg.Pool, { request, claim, greeting, renew, mayStay }: ClaimedStream): Promise<Response> {
  const { episode, party } = claim;
  requireOwnPage(request);
  const stream = randomUUID();
  let begin: number;
  try {
    begin = await claimWindow(pool, { ...claim, stream });
  } catch (error) {
    if (error instanceof HttpError && error.code === 'open-elsewhere') return refusal(error);
    throw error;
  }
  return messageStream(pool, {
    episode,
    recipient: party,
    after: resumeAfter(request, begin),
    greeting: await greeting(),
    renew,
    signal: request.signal,
    stillThere: async () => (await mayStay()) && (await keepWindow(pool, episode, party, stream)),
    onEnd: () => releaseWindow(pool, episode, party, stream),
  });
}
