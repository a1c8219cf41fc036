// Keeps a process running: one that ends by itself is started again, later each time, and that is said.
const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 30_000;
/** Whatever ran for so long had begun well. */
const WELL_MS = 60_000;

const howItEnded = (code, signal) => (signal ? `by ${signal}` : `with ${code}`);

/**
 * @param {string} name what it is called in words: `The server`
 * @param {() => import('node:child_process').ChildProcess} start
 * @param {{ killAfterMs?: number, say?: (words: string) => void }} options
 * @returns {{ stop: () => Promise<void>, current: () => import('node:child_process').ChildProcess }}
 */
export function supervise(name, start, { killAfterMs = 3000, say = (words) => console.error(words) } = {}) {
  let stopping = false;
  let pause = FIRST_PAUSE_MS;
  let timer;
  let child;
  let startedAt = 0;
  const begin = () => {
    startedAt = performance.now();
    child = start();
    child.once('exit', (code, signal) => {
      if (stopping) return;
      if (performance.now() - startedAt > WELL_MS) pause = FIRST_PAUSE_MS;
      say(`${name} ended ${howItEnded(code, signal)} and is started again in ${pause / 1000} s.`);
      timer = setTimeout(begin, pause);
      pause = Math.min(LONGEST_PAUSE_MS, 2 * pause);
    });
  };
  begin();
  return {
    current: () => child,
    stop() {
      stopping = true;
      clearTimeout(timer);
      if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
      return new Promise((done) => {
        const kill = setTimeout(() => child.kill('SIGKILL'), killAfterMs);
        child.once('exit', () => {
          clearTimeout(kill);
          done();
        });
        child.kill('SIGTERM');
      });
    },
  };
}
