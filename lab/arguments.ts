/** The command line was not understood; the message is for the person who typed it. */
export class UsageError extends Error {}

/** Options of a command by name, as typed: `--seed 7` gives `seed → 7`, a lone `--json` gives `''`. */
export type Options = Map<string, string>;

/** @throws {UsageError} for anything that is not one of the named options */
export function parseOptions(words: readonly string[], valued: string[], plain: string[]): Options {
  const options: Options = new Map();
  for (let i = 0; i < words.length; i++) {
    const name = words[i].startsWith('--') ? words[i].slice(2) : '';
    if (plain.includes(name)) options.set(name, '');
    else if (valued.includes(name)) {
      const value = words[++i];
      if (value === undefined || value.startsWith('--')) throw new UsageError(`--${name} needs a value.`);
      options.set(name, value);
    } else throw new UsageError(`${words[i]} is not an option of this command.`);
  }
  return options;
}

/** @throws {UsageError} unless the option is a whole number in range, or absent with a fallback */
export function wholeNumber(
  options: Options,
  name: string,
  limits: { from: number; to: number; otherwise: number },
): number {
  const typed = options.get(name);
  if (typed === undefined) return limits.otherwise;
  const value = Number(typed);
  if (!/^\d+$/.test(typed) || value < limits.from || value > limits.to) {
    throw new UsageError(`--${name} must be a whole number from ${limits.from} to ${limits.to}, received ${typed}.`);
  }
  return value;
}

/** @throws {UsageError} unless the option is a number in range, or absent with a fallback */
export function decimalNumber(
  options: Options,
  name: string,
  limits: { above: number; to: number; otherwise: number },
): number {
  const typed = options.get(name);
  if (typed === undefined) return limits.otherwise;
  const value = Number(typed);
  if (typed.trim() === '' || !(value > limits.above && value <= limits.to)) {
    throw new UsageError(`--${name} must be above ${limits.above} and up to ${limits.to}, received ${typed}.`);
  }
  return value;
}
