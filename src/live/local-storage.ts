import type { z } from '@/core/zod';

/** What this browser keeps under a key; null where there is nothing, or nothing that can be read. */
export function readLocal<Value>(key: string, schema: z.ZodType<Value>): Value | null {
  try {
    const parsed = schema.safeParse(JSON.parse(localStorage.getItem(key) ?? 'null'));
    return parsed.success ? parsed.data : null;
  } catch {
    return null;
  }
}

/** Keeps something in this browser; one that keeps nothing, or has no room, is no reason to stop. */
export function writeLocal(key: string, value: unknown): void {
  try {
    localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // Then it is not there the next time.
  }
}

export function forgetLocal(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // Then nothing was kept either.
  }
}
