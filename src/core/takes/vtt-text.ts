import { SAMPLE_RATE } from './chunks';

/** `00:01:05.250`, as WebVTT (W3C) wants it. */
export function vttTime(sample: number): string {
  const ms = Math.round((sample * 1000) / SAMPLE_RATE);
  const part = (value: number, digits: number) => String(value).padStart(digits, '0');
  return `${part(Math.floor(ms / 3_600_000), 2)}:${part(Math.floor(ms / 60_000) % 60, 2)}:${part(Math.floor(ms / 1000) % 60, 2)}.${part(ms % 1000, 3)}`;
}

/** Text as a cue can hold it: one line, nothing that ends the cue or begins a tag. */
export function vttText(text: string): string {
  return text.replace(/\s+/g, ' ').replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
}
