/** The middle one of some values; the upper one of two. */
export const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];
