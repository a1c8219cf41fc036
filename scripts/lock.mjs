// Only one start at a time works on a data folder. The lock is a socket that the process itself listens on: it is gone
// with the process, however that ends, and can be nobody else's.
import { createHash } from 'node:crypto';
import { createConnection, createServer } from 'node:net';
import { resolve } from 'node:path';
import { rmSync } from 'node:fs';

/** Linux has sockets without a file (abstract ones); elsewhere a file that nobody listens on is left over, and removed. */
function socketOf(folder) {
  const path = resolve(folder);
  const name = createHash('sha256').update(path).digest('hex').slice(0, 24);
  return process.platform === 'linux' ? `\0brisk-lantern-${name}` : resolve(folder, 'running.sock');
}

const listen = (server, socket) =>
  new Promise((done, fail) => {
    server.once('error', fail);
    server.listen(socket, () => done());
  });

/** What the holder of a lock says of itself; null when nobody answers. */
const ask = (socket) =>
  new Promise((done) => {
    let said = '';
    const connection = createConnection(socket);
    connection.setTimeout(2000, () => connection.destroy());
    connection.on('data', (data) => (said += data));
    connection.on('error', () => done(null));
    connection.on('close', () => done(said === '' ? null : said));
  });

/**
 * The address of the product that runs on a data folder. @throws {Error} when none does
 * @param {string} folder
 */
export async function runningAddress(folder = 'data') {
  const address = /http:\/\/[\w.:]+/.exec((await ask(socketOf(folder))) ?? '')?.[0];
  if (!address) throw new Error('The product does not run here. Start it with "npm start" first.');
  return address;
}

/**
 * Takes the lock of a data folder.
 * @param {string} folder
 * @param {() => string} says what whoever comes second is told
 * @returns {Promise<{ heldBy: null, release: () => void } | { heldBy: string }>}
 */
export async function takeLock(folder, says) {
  const socket = socketOf(folder);
  const server = createServer((connection) => {
    connection.on('error', () => undefined);
    connection.end(says());
  });
  server.unref();
  for (let tries = 0; ; tries++) {
    try {
      await listen(server, socket);
      return { heldBy: null, release: () => server.close() };
    } catch (error) {
      if (error.code !== 'EADDRINUSE') throw error;
      const heldBy = await ask(socket);
      if (heldBy !== null) return { heldBy };
      if (tries > 1) return { heldBy: 'another start, which is busy' };
      // Nobody listens: a file that a killed start has left.
      if (!socket.startsWith('\0')) rmSync(socket, { force: true });
    }
  }
}
