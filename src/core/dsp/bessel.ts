/** Modified Bessel function of the first kind, order zero (Abramowitz and Stegun, 9.6.10). */
export function bessel0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; k < 40; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}
