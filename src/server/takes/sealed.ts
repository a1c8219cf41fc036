import { HttpError } from '../http/errors';
import type { TakeRow } from './queries';

/** Length of a take that is complete. @throws {HttpError} 409 */
export function requireSealed(take: TakeRow): number {
  if (take.length_samples === null) {
    throw new HttpError(409, 'not-sealed', 'This take is still being recorded. Stop it first.');
  }
  return take.length_samples;
}
