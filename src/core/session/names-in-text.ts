import { MOST_NAME_LETTERS } from '../limits';

/** Names somebody typed or pasted: one a line, or with commas or semicolons between them. None twice. */
export function namesInText(text: string): string[] {
  const names = text
    .split(/[\n\r,;]+/)
    .map((name) => name.replace(/\s+/g, ' ').trim().slice(0, MOST_NAME_LETTERS).trim())
    .filter((name) => name !== '');
  return [...new Set(names)];
}

/** What each of some people is called: by the first name, or whole where somebody else is called so already, or is only numbered. */
export function calledNames(fullNames: readonly string[], taken: readonly string[]): string[] {
  const first = (name: string): string => name.split(' ')[0];
  const isNumbered = (name: string): boolean => /^\S+ \d+$/.test(name);
  return fullNames.map((name) => (isNumbered(name) || taken.includes(first(name)) || fullNames.filter((other) => first(other) === first(name)).length > 1 ? name : first(name)));
}
