/** A disk that has not answered by then is taken for one that never will: what waits for it is in memory only, and goes with the page. */
export const DISK_WITHIN_MS = 3000;

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
export function inTime<Answer>(asked: Promise<Answer>, late: (answer: Answer) => void = () => undefined): Promise<Answer> {
  return new Promise((resolve, reject) => {
    let over = false;
    const timer = setTimeout(() => {
      over = true;
      reject(new SilentDiskError());
    }, DISK_WITHIN_MS);
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
