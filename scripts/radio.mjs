import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { freePort } from './ports.mjs';
import { supervise } from './supervise.mjs';
import { Trouble } from './trouble.mjs';

const KEY_BYTES = 32;

/** The key by which passwords are kept: SECRET_KEY, or one that is made once beside the data and readable by nobody else. */
export function secretKey(file) {
  if (process.env.SECRET_KEY) {
    if (Buffer.from(process.env.SECRET_KEY, 'base64').length !== KEY_BYTES) throw new Trouble(`SECRET_KEY must be ${KEY_BYTES} bytes in base64. Make one with: head -c ${KEY_BYTES} /dev/urandom | base64`);
    return process.env.SECRET_KEY;
  }
  if (!existsSync(file)) writeFileSync(file, `${randomBytes(KEY_BYTES).toString('base64')}\n`, { mode: 0o600 });
  return readFileSync(file, 'utf8').trim();
}

const keep = (name, file, environment) =>
  supervise(`The ${name}`, () =>
    spawn(process.execPath, ['--import', 'tsx', file], { env: { ...process.env, PROCESS_NAME: name, ...environment }, stdio: ['ignore', 'ignore', 'inherit', 'ipc'], detached: true }),
  );

/** What server, sender and practice radio must know of each other. */
export async function radioEnvironment(keyFile) {
  const port = await freePort();
  return { SECRET_KEY: secretKey(keyFile), PRACTICE_RADIO: `http://127.0.0.1:${port}`, PRACTICE_RADIO_PORT: String(port), PRACTICE_RADIO_PASSWORD: randomBytes(18).toString('base64url') };
}

/** Starts the sender of streams and the practice radio, and keeps both running. */
export function startRadio(databaseUrl, environment) {
  const radio = keep('practice radio', 'src/server/air/practice-radio.ts', environment);
  const sender = keep('sender', 'src/server/air/sender.ts', { ...environment, DATABASE_URL: databaseUrl });
  return {
    current: () => ({ radio: radio.current().pid, sender: sender.current().pid }),
    stop: () => Promise.all([radio.stop(), sender.stop()]),
  };
}
