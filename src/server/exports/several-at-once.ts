/**
 * Does the same with every entry of a list, so many at a time, and begins no more once one has failed.
 * @returns the results, in the order of the list
 * @throws whatever the first to fail threw, once nothing runs any more
 */
export async function severalAtOnce<Entry, Result>(most: number, entries: readonly Entry[], work: (entry: Entry, place: number) => Promise<Result>): Promise<Result[]> {
  const results: Result[] = [];
  const failures: unknown[] = [];
  let next = 0;
  const takeTurns = async (): Promise<void> => {
    while (next < entries.length && failures.length === 0) {
      const place = next++;
      try {
        results[place] = await work(entries[place], place);
      } catch (error) {
        failures.push(error);
      }
    }
  };
  await Promise.all(Array.from({ length: most }, takeTurns));
  if (failures.length > 0) throw failures[0];
  return results;
}
