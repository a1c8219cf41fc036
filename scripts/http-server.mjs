// The product's HTTP server: Next's handler behind a listener of our own, which knows where requests come from and lets
// go of event streams at once when it is told to stop. Run by the start command and the tests.
import { createServer } from 'node:http';
import next from 'next';
import { mayConnect, noteWay, trustedProxies } from './forwarded.mjs';
import { log, noteRequest } from './log.mjs';
import { listenPlain, listenTls } from './tls-listener.mjs';

const [, , mode, port] = process.argv;
const hostname = process.env.LISTEN ?? '127.0.0.1';
const trusted = trustedProxies(process.env.TRUSTED_PROXIES);
/** What is being answered may take so long when the server is told to stop; streams would never end. */
const FINISH_WITHIN_MS = 1500;

const app = next({ dev: mode === 'dev', hostname, port: Number(port) });
await app.prepare();
const handle = app.getRequestHandler();
const answer = (request, response) => {
  noteWay(request.headers, request.socket.remoteAddress, trusted, request.socket.encrypted === true);
  noteRequest(request, response);
  handle(request, response).catch((err) => {
    log.error({ err, request: request.headers['x-request-id'] }, 'a request failed');
    response.destroy();
  });
};
const server = createServer(answer);
const { TLS_CERT, TLS_KEY, TLS_PORT, PLAIN_PORT, CHALLENGES, AUTHORITY, PUBLIC_URL, LAN_URL } = process.env;
/** Those that others reach, beside the one on this machine. */
const outside = TLS_PORT
  ? [listenTls({ cert: TLS_CERT, key: TLS_KEY, port: Number(TLS_PORT), handle: answer }), listenPlain({ port: Number(PLAIN_PORT), challenges: CHALLENGES, authority: AUTHORITY, address: PUBLIC_URL ?? LAN_URL })]
  : [];
if (mode === 'dev') server.on('upgrade', app.getUpgradeHandler());
// A slow line may take long to bring a large sound; nobody may take for ever to say what is wanted.
for (const one of [server, ...outside]) {
  one.requestTimeout = 0;
  one.headersTimeout = 20_000;
}
// A proxy on another machine is let in, and nobody else: what comes past it would not be encrypted.
if (process.env.LISTEN) server.on('connection', (socket) => mayConnect(socket.remoteAddress, trusted) || socket.destroy());
server.listen(Number(port), hostname);

let stopping = false;
function stop() {
  if (stopping) return;
  stopping = true;
  server.close(() => process.exit(0));
  for (const one of outside) one.close();
  for (const one of [server, ...outside]) one.closeIdleConnections();
  setTimeout(() => {
    for (const one of [server, ...outside]) one.closeAllConnections();
    setTimeout(() => process.exit(0), 200).unref();
  }, FINISH_WITHIN_MS).unref();
  // Event streams end by themselves when they hear this.
  process.emit('lantern-stopping');
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// Whoever started it was killed.
process.on('disconnect', stop);
