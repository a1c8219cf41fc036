import { spawn } from 'node:child_process';
import { supervise } from './supervise.mjs';

/** Starts whoever gets the certificate and renews it, and keeps that running. */
export const startCertificate = (environment) =>
  supervise('Whoever keeps the certificate', () => spawn(process.execPath, ['scripts/acme.mjs'], { env: { ...process.env, ...environment }, stdio: ['ignore', 'inherit', 'inherit', 'ipc'], detached: true }));
