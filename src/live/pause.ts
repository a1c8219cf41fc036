export const pause = (milliseconds: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Pauses that can be ended all at once, because what was waited for may be there now. */
export interface Naps {
  rest(milliseconds: number): Promise<void>;
  wake(): void;
}

export function createNaps(): Naps {
  const sleepers = new Set<() => void>();
  return {
    rest: (milliseconds) =>
      new Promise((resolve) => {
        const end = (): void => {
          clearTimeout(timer);
          sleepers.delete(end);
          resolve();
        };
        const timer = setTimeout(end, milliseconds);
        sleepers.add(end);
      }),
    wake: () => sleepers.forEach((end) => end()),
  };
}

/**
 * Turns with a rest between them until something has ended, which wakes whoever rests. A race between the end and each rest would keep a
 * trace of every turn for as long as the end is to come: some megabytes in an hour.
 */
export function turnsUntil<Result>(ending: Promise<Result>): { ended: Promise<Result>; turns: { go(): boolean; rest(milliseconds: number): Promise<void> } } {
  const naps = createNaps();
  let over = false;
  const ended = ending.finally(() => {
    over = true;
    naps.wake();
  });
  // Whoever takes turns hears of a failure when the last of them is over.
  ended.catch(() => undefined);
  return { ended, turns: { go: () => !over, rest: (milliseconds) => (over ? Promise.resolve() : naps.rest(milliseconds)) } };
}
