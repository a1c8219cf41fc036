// The product's HTTP server: Next's handler behind a listener of our own, which knows where requests come from and lets
// go of event streams at once when it is told to stop. Run by the start command and the tests.
import { createServer } from 'node:http';
import next from 'next';
import { noteWay, trustedProxies } from './forwarded.mjs';

const [, , mode, port] = process.argv;
const hostname = '127.0.0.1';
const trusted = trustedProxies(process.env.TRUSTED_PROXIES);
/** What is being answered may take so long when the server is told to stop; streams would never end. */
const FINISH_WITHIN_MS = 1500;

const app = next({ dev: mode === 'dev', hostname, port: Number(port) });
await app.prepare();
const handle = app.getRequestHandler();
const server = createServer((request, response) => {
  noteWay(request.headers, request.socket.remoteAddress, trusted);
  handle(request, response).catch((error) => {
    console.error(error);
    response.destroy();
  });
});
if (mode === 'dev') server.on('upgrade', app.getUpgradeHandler());
// A slow line may take long to bring a large sound; nobody may take for ever to say what is wanted.
server.requestTimeout = 0;
server.headersTimeout = 20_000;
server.listen(Number(port), hostname);

let stopping = false;
function stop() {
  if (stopping) return;
  stopping = true;
  server.close(() => process.exit(0));
  server.closeIdleConnections();
  setTimeout(() => {
    server.closeAllConnections();
    setTimeout(() => process.exit(0), 200).unref();
  }, FINISH_WITHIN_MS).unref();
  // Event streams end by themselves when they hear this.
  process.emit('lantern-stopping');
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// Whoever started it was killed.
process.on('disconnect', stop);
