/** Waits, and lets everything else have its turn. */
export const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));
