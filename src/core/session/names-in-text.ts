import { MOST_NAME_LETTERS } from '../limits';

/** Names somebody typed or pasted: one a line, or with commas or semicolons between them. None twice. */
export function namesInText(text: string): string[] {
  const names = text
    .split(/[\n\r,;]+/)
    .map((name) => name.replace(/\s+/g, ' ').trim().slice(0, MOST_NAME_LETTERS).trim())
    .filter((name) => name !== '');
  return [...new Set(names)];
}
