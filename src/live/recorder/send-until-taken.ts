import { ANSWER_WITHIN_MS } from '../api';
import { createNaps } from '../pause';
import { problemWith, type Problem } from './answer';

const LONGEST_PAUSE_MS = 8000;

/** Between two tries; all can be woken when the way may be free again. */
export const betweenTries = createNaps();

/**
 * Sends JSON until the server has taken it, with more time at every try.
 * @param onProblem hears why it has to wait, and (null) that it need not any more
 * @throws {Error} when the server will never take it, in its words
 */
export async function sendUntilTaken(method: 'POST' | 'PUT', url: string, body: object, onProblem: (problem: Problem | null) => void): Promise<void> {
  for (let tries = 0; ; tries++) {
    const response = await fetch(url, {
      method,
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
      signal: AbortSignal.timeout(ANSWER_WITHIN_MS * 2 ** Math.min(tries, 4)),
    }).catch(() => null);
    const problem = await problemWith(response);
    if (!problem) return onProblem(null);
    if (!problem.passing) throw new Error(problem.message);
    onProblem(problem);
    await betweenTries.rest(Math.min(LONGEST_PAUSE_MS, 500 * 2 ** tries));
  }
}
