import fc from 'fast-check';
import { expect, test } from 'vitest';
import { severalAtOnce } from './several-at-once';

const tasks = fc.array(fc.record({ turns: fc.nat(6), fails: fc.boolean() }), { maxLength: 12 });

async function work(turns: number): Promise<void> {
  for (let k = 0; k < turns; k++) await Promise.resolve();
}

test('so many at a time and no more, the results in order; nothing runs on after a failure', async () => {
  await fc.assert(
    fc.asyncProperty(tasks, fc.integer({ min: 1, max: 4 }), async (list, most) => {
      let [running, mostRunning, begun, begunWhenItFailed] = [0, 0, 0, Infinity];
      const done = severalAtOnce(most, list, async ({ turns, fails }, place) => {
        begun++;
        mostRunning = Math.max(mostRunning, ++running);
        await work(turns);
        running--;
        if (!fails) return place;
        begunWhenItFailed = Math.min(begunWhenItFailed, begun);
        throw new Error(String(place));
      });
      const outcome = await done.catch((error: Error) => error);
      expect(running).toBe(0);
      expect(mostRunning).toBeLessThanOrEqual(most);
      const failing = list.flatMap(({ fails }, place) => (fails ? [String(place)] : []));
      if (failing.length === 0) expect(outcome).toEqual(list.map((_, place) => place));
      else expect(failing).toContain((outcome as Error).message);
      // Whoever ends at the same moment may not know of it yet.
      expect(begun).toBeLessThanOrEqual(begunWhenItFailed + most);
    }),
  );
});
