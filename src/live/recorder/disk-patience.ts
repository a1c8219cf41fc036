/** A disk that has not answered by then is taken for one that never will: what waits for it is in memory only, and goes with the page. */
export const DISK_WITHIN_MS = 3000;
/** What nothing else waits for is asked for again with twice the time, up to this. */
const LONGEST_MS = 48_000;

/** This computer's disk was asked for something and said nothing. */
export class SilentDiskError extends Error {
  constructor() {
    super('This computer’s disk does not answer.');
  }
}

/**
 * What was asked of this computer's disk, if it comes in time. A browser may leave a file's opening without any answer where the
 * machine was held up, and whoever records must not wait for it.
 * @param late given what comes all the same, to let go of it
 * @throws {SilentDiskError}
 */
export function inTime<Answer>(asked: Promise<Answer>, late: (answer: Answer) => void = () => undefined, withinMs = DISK_WITHIN_MS): Promise<Answer> {
  return new Promise((resolve, reject) => {
    let over = false;
    const timer = setTimeout(() => {
      over = true;
      reject(new SilentDiskError());
    }, withinMs);
    asked.then(
      (answer) => {
        clearTimeout(timer);
        if (over) late(answer);
        else resolve(answer);
      },
      (error: Error) => {
        clearTimeout(timer);
        reject(error);
      },
    );
  });
}

/**
 * What is on this computer's disk only, and may take it long: asked for again and again, with more time for each, until one answers.
 * @throws {SilentDiskError} after a minute and a half
 */
export async function soonerOrLater<Answer>(ask: () => Promise<Answer>): Promise<Answer> {
  const asked: Promise<Answer>[] = [];
  for (let withinMs = DISK_WITHIN_MS; ; withinMs *= 2) {
    asked.push(ask());
    try {
      // An earlier one may be answered first.
      return await inTime(Promise.race(asked), undefined, withinMs);
    } catch (error) {
      if (!(error instanceof SilentDiskError) || withinMs >= LONGEST_MS) throw error;
    }
  }
}
