import { spawn } from 'node:child_process';
import { supervise } from './supervise.mjs';

/**
 * Starts the workers that do long work on takes, and starts one again that ends by itself. A call on the same
 * machine cannot wait and they can, so they give way to it; but not for ever, or their work would never end.
 */
export function startWorkers(databaseUrl, count = 1, environment = {}) {
  const workers = Array.from({ length: count }, () =>
    supervise('A worker', () =>
      spawn('nice', ['-n', '10', process.execPath, '--import', 'tsx', 'src/server/jobs/worker.ts'], {
        env: { ...process.env, DATABASE_URL: databaseUrl, PROCESS_NAME: 'worker', ...environment },
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
        detached: true,
      }),
    ),
  );
  return {
    current: () => workers.map((worker) => worker.current()),
    /** Resolves when all have let go of the database. One that does not soon is killed: its work is taken up by the next. */
    stop: () => Promise.all(workers.map((worker) => worker.stop())),
  };
}
