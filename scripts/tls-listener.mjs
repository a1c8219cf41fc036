// The product's own TLS listener, and the plain one beside it that leads there.
import { existsSync, readFileSync, watchFile } from 'node:fs';
import { createServer as createPlain } from 'node:http';
import { createServer } from 'node:https';
import { join } from 'node:path';
import { certificateIn } from './tls-files.mjs';

const LOOK_EVERY_MS = 1000;

const read = (file) => (existsSync(file) ? readFileSync(file, 'utf8') : '');

/** What a TLS server needs of its files; null while they are not there, or do not belong together. */
function contextOf({ cert, key }, say) {
  const [chain, secret] = [read(cert), read(key)];
  if (chain === '' || secret === '') return null;
  try {
    certificateIn(chain);
    return { cert: chain, key: secret, minVersion: 'TLSv1.2' };
  } catch (error) {
    say(`The certificate in ${cert} cannot be used: ${error.message}`);
    return null;
  }
}

/**
 * Listens for TLS with the certificate of two files (or of one that holds both), and takes another one up when they change:
 * connections that run go on with the old one. A file that cannot be used is said and left; the one before stays.
 */
export function listenTls({ cert, key, port, handle, say = console.error }) {
  const server = createServer({ minVersion: 'TLSv1.2' }, handle);
  const take = () => {
    const context = contextOf({ cert, key }, say);
    if (!context) return;
    try {
      server.setSecureContext(context);
    } catch (error) {
      say(`The certificate was changed, and cannot be used: ${error.message}. The one before stays.`);
    }
  };
  take();
  for (const file of new Set([cert, key])) watchFile(file, { interval: LOOK_EVERY_MS, persistent: false }, take);
  server.on('error', (error) => say(listenWords(error, port)));
  server.listen(port);
  return server;
}

/** Why a port cannot be had, and what to do. */
export function listenWords(error, port) {
  if (error.code === 'EACCES') return `Port ${port} needs a right this user does not have. Give it with: setcap cap_net_bind_service=+ep ${process.execPath}, or let systemd give it (AmbientCapabilities=CAP_NET_BIND_SERVICE).`;
  if (error.code === 'EADDRINUSE') return `Port ${port} is taken by another program. End that one, or put this one behind it with --behind-proxy.`;
  return error.message;
}

const TOKEN = /^\/\.well-known\/acme-challenge\/([\w-]{1,200})$/;

/**
 * Answers on the plain port: a certificate authority's questions (RFC 8555, 8.3), this product's own authority where it has one,
 * and for everything else the way to TLS.
 */
export function listenPlain({ port, challenges, authority, address, say = console.error }) {
  const server = createPlain((request, response) => {
    const path = (request.url ?? '/').split('?')[0];
    const [, token] = TOKEN.exec(path) ?? [];
    const answer = token && challenges ? read(join(challenges, token)) : '';
    if (token) return answer === '' ? response.writeHead(404).end() : response.writeHead(200, { 'content-type': 'application/octet-stream' }).end(answer);
    if (authority && path === '/authority.crt') return response.writeHead(200, { 'content-type': 'application/x-x509-ca-cert', 'content-disposition': 'attachment; filename="brisk-lantern-authority.crt"' }).end(read(authority));
    if (authority) return response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(trustPage(address));
    response.writeHead(308, { location: `${address}${request.url}` }).end();
  });
  server.on('error', (error) => say(listenWords(error, port)));
  server.listen(port);
  return server;
}

const trustPage = (address) => `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Brisk Lantern in this house</title>
<style>body{font:18px/1.5 system-ui,sans-serif;max-width:36em;margin:2em auto;padding:0 1em;background:#10141f;color:#f2efe6}a{color:#ffb547}</style>
<h1>Brisk Lantern in this house</h1>
<p>The desk is at <a href="${address}">${address}</a>. Browsers let a page use a microphone only over an encrypted connection, and this machine has made the certificate for that itself. Your browser does not know its maker yet and warns you.</p>
<ol><li>Get <a href="/authority.crt">the authority’s certificate</a>.</li>
<li>Tell this device to trust it for web pages: open it, or take it in under certificates or authorities in the settings of your browser or system.</li>
<li>Open <a href="${address}">${address}</a>.</li></ol>
<p><strong>What that means:</strong> this device will believe every certificate made with the key that lies on the desk’s machine, for any site. Do it only in a house whose machines are yours, and take it out again when you no longer need it. To come in once, going on in spite of the warning is enough.</p></html>`;
