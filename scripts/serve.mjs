import { spawn } from 'node:child_process';
import { supervise } from './supervise.mjs';

/** Serves the built product (or the one under development) on a loopback port, and keeps it served. */
export function startServer(port, environment, { development = false } = {}) {
  return supervise('The server', () =>
    spawn(process.execPath, ['scripts/http-server.mjs', development ? 'dev' : 'start', String(port)], {
      env: { ...process.env, NODE_ENV: development ? 'development' : 'production', NEXT_TELEMETRY_DISABLED: '1', PROCESS_NAME: 'server', ...environment },
      // The channel says when the start command was killed: nobody would stop the server then.
      stdio: ['ignore', development ? 'inherit' : 'ignore', 'inherit', 'ipc'],
      // Ctrl-C reaches the whole group; the server is stopped by us, after which the database is.
      detached: true,
    }),
  );
}

/** Whether the product answers within a time, ms. */
export async function answers(address, withinMs) {
  for (const until = performance.now() + withinMs; performance.now() < until; ) {
    if (await fetch(`${address}/api/health`, { signal: AbortSignal.timeout(5000) }).then((response) => response.ok, () => false)) return true;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return false;
}
