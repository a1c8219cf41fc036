import { spawn } from 'node:child_process';

const AGAIN_AFTER_MS = 2000;
const STOP_WITHIN_MS = 3000;

function end(worker) {
  return new Promise((resolve) => {
    const kill = setTimeout(() => worker.kill('SIGKILL'), STOP_WITHIN_MS);
    worker.once('exit', () => {
      clearTimeout(kill);
      resolve();
    });
    worker.kill('SIGTERM');
  });
}

/**
 * Starts the workers that do long work on takes, and starts one again that ends by itself. A call on the same
 * machine cannot wait and they can, so they take only what it leaves.
 */
export function startWorkers(databaseUrl, count = 1) {
  const running = new Set();
  let stopping = false;
  const start = () => {
    const worker = spawn('nice', ['-n', '5', process.execPath, '--import', 'tsx', 'src/server/jobs/worker.ts'], {
      env: { ...process.env, DATABASE_URL: databaseUrl },
      stdio: ['ignore', 'ignore', 'inherit'],
      detached: true,
    });
    running.add(worker);
    worker.on('exit', () => {
      running.delete(worker);
      if (!stopping) setTimeout(start, AGAIN_AFTER_MS).unref();
    });
  };
  for (let k = 0; k < count; k++) start();
  return {
    /** Resolves when all have let go of the database. One that does not soon is killed: its work is taken up by the next. */
    async stop() {
      stopping = true;
      await Promise.all([...running].map(end));
    },
  };
}
