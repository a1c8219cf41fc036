import type { Querier } from '../database';
import { HttpError } from '../http/errors';

export interface AttemptLimit {
  /** What is counted, and for whom: `sign-in/email/maren@…`. */
  bucket: string;
  most: number;
  seconds: number;
}

/**
 * Counts one attempt, across all app instances. @throws {HttpError} 429 when there were too many in
 * the current stretch of time
 */
export async function countAttempt(db: Querier, { bucket, most, seconds }: AttemptLimit): Promise<void> {
  const { rows } = await db.query<{ attempts: number; wait: number }>(
    `with stretch as (select to_timestamp(floor(extract(epoch from now()) / $2) * $2) as began_at)
     insert into attempt_count (bucket, began_at, attempts)
     select $1, began_at, 1 from stretch
     on conflict (bucket, began_at) do update set attempts = attempt_count.attempts + 1
     returning attempts, ceil($2 - (extract(epoch from now()) - extract(epoch from began_at)))::int as wait`,
    [bucket.slice(0, 300), seconds],
  );
  if (rows[0].attempts <= most) return;
  const minutes = Math.max(1, Math.ceil(rows[0].wait / 60));
  throw new HttpError(429, 'too-many', `That was tried too often. Wait ${minutes === 1 ? 'a minute' : `${minutes} minutes`}, then try again.`);
}
