import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

/** Every file the page names, with the names that follow it up to the next file. */
function named(page: string): { file: string; names: string[] }[] {
  const found: { file: string; names: string[] }[] = [];
  for (const [, code] of page.matchAll(/`([^`\n]+)`/g)) {
    if (/^(src|scripts|lab|e2e|db)\//.test(code)) found.push({ file: code, names: [] });
    else found.at(-1)?.names.push(code);
  }
  return found;
}

describe('the way of one sample', () => {
  const found = named(readFileSync('docs/SAMPLE.md', 'utf8'));

  it('names files that are there, and what is in them', () => {
    expect(found.length).toBeGreaterThan(20);
    const wrong = found.flatMap(({ file, names }) => {
      if (!existsSync(file)) return [`${file} is not there`];
      if (!/\.\w+$/.test(file)) return [];
      const text = readFileSync(file, 'utf8');
      return names.filter((name) => !text.includes(name)).map((name) => `${name} is not in ${file}`);
    });
    expect(wrong).toEqual([]);
  });
});
