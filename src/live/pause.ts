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
