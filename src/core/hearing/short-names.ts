/**
 * Names so short that they fit over a lamp, and still all different: the beginning of each; where two begin alike, their
 * last letter tells them apart, and where that is the same too, a number.
 * @param most letters, 3 or more
 */
export function shortNames(names: readonly string[], most: number): string[] {
  const letters = names.map((name) => [...name.trim()]);
  const short = letters.map((name) => name.slice(0, most).join('').trim());
  const count = (word: string): number => short.filter((one) => one === word).length;
  const twins = short.map((word) => count(word) > 1);
  for (const [k, name] of letters.entries()) if (twins[k] && name.length > most) short[k] = `${name.slice(0, most - 1).join('').trim()}${name.at(-1) ?? ''}`;
  for (let k = 0; k < short.length; k++) {
    for (let number = 1; count(short[k]) > 1; number++) short[k] = `${letters[k].slice(0, most - String(number).length).join('').trim()}${number}`;
  }
  return short;
}
