/** Arithmetic mean; NaN of nothing. */
export const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
