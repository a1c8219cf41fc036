/** Browsers open and close outputs badly when asked for several at once: one of them was seen to stand still for ever. */
let queue: Promise<unknown> = Promise.resolve();

/** Does this when everything that was asked for before is done, whatever came of it. */
export function inTurn<Result>(work: () => Promise<Result>): Promise<Result> {
  const turn = queue.then(work, work);
  queue = turn.catch(() => undefined);
  return turn;
}
