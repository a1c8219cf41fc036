import { createServer, type Server, type Socket } from 'node:net';
import { basicAuthorization } from './source-connection';
import { ChunkedBody, readHead, type RequestHead } from './http-head';
import { RadioMount } from './radio-mount';

/** Nobody is asked to wait longer for the rest of a request, ms; nor is a source that sends nothing. */
const QUIET_MS = 12_000;

export interface RadioServer {
  port: number;
  close(): Promise<void>;
}

/**
 * A small radio server for the demo, for practising and for tests: takes streams by PUT with basic authentication, titles by the
 * metadata request or in the stream, and gives them to whoever listens. It keeps nothing and is meant for this machine.
 */
export function startRadioServer(port: number, user: string, password: string): Promise<RadioServer> {
  const mounts = new Map<string, RadioMount>();
  const sockets = new Set<Socket>();
  const authorized = ({ headers }: RequestHead): boolean => headers.authorization === basicAuthorization(user, password);

  const answer = (socket: Socket, status: string, body = '', type = 'text/plain'): void =>
    void socket.end(`HTTP/1.1 ${status}\r\ncontent-type: ${type}; charset=utf-8\r\ncontent-length: ${Buffer.byteLength(body)}\r\n${status.startsWith('401') ? 'www-authenticate: Basic realm="radio"\r\n' : ''}connection: close\r\n\r\n${body}`);

  const takeSource = (socket: Socket, { path, headers }: RequestHead, first: Buffer): void => {
    if (mounts.has(path)) return answer(socket, '403 Mount in use');
    if (!/^(audio\/mpeg|application\/ogg|audio\/ogg)$/.test(headers['content-type'] ?? '')) return answer(socket, '415 Unsupported media type');
    if (/100-continue/i.test(headers.expect ?? '')) socket.write('HTTP/1.1 100 Continue\r\n\r\n');
    const mount = new RadioMount(headers);
    mounts.set(path, mount);
    const chunked = /chunked/i.test(headers['transfer-encoding'] ?? '') ? new ChunkedBody() : null;
    const take = (bytes: Buffer): void => {
      mount.take(chunked ? chunked.push(bytes) : bytes);
      if (chunked?.ended) answer(socket, '200 OK');
    };
    if (first.length > 0) take(first);
    socket.on('data', take);
    socket.on('end', () => socket.end());
    socket.on('close', () => {
      mounts.delete(path);
      mount.close();
    });
  };

  const serve = (socket: Socket, head: RequestHead, rest: Buffer): void => {
    const { method, path, query, headers } = head;
    if (method === 'PUT') return authorized(head) ? takeSource(socket, head, rest) : answer(socket, '401 Unauthorized');
    if (method !== 'GET') return answer(socket, '405 Method not allowed');
    if (path === '/admin/metadata') {
      const mount = mounts.get(query.get('mount') ?? '');
      if (!authorized(head)) return answer(socket, '401 Unauthorized');
      if (!mount || query.get('mode') !== 'updinfo') return answer(socket, '400 No such mount');
      mount.retitle(query.get('song') ?? '');
      return answer(socket, '200 OK');
    }
    if (path === '/status.json') return answer(socket, '200 OK', statusOf(mounts), 'application/json');
    const mount = mounts.get(path);
    if (!mount) return answer(socket, '404 Nothing is on the air here');
    socket.setTimeout(0);
    mount.listen(socket, headers['icy-metadata'] === '1');
  };

  const server: Server = createServer((socket) => {
    sockets.add(socket);
    socket.setTimeout(QUIET_MS, () => socket.destroy());
    socket.on('close', () => sockets.delete(socket));
    socket.on('error', () => socket.destroy());
    let begun = Buffer.alloc(0);
    const read = (more: Buffer): void => {
      begun = Buffer.concat([begun, more]);
      try {
        const found = readHead(begun);
        if (!found) return;
        socket.off('data', read);
        serve(socket, found.head, begun.subarray(found.bodyAt));
      } catch {
        answer(socket, '400 Bad request');
      }
    };
    socket.on('data', read);
  });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => {
      const address = server.address();
      resolve({
        port: typeof address === 'object' && address ? address.port : port,
        close: () =>
          new Promise((closed) => {
            server.close(() => closed());
            for (const socket of sockets) socket.destroy();
          }),
      });
    });
  });
}

const statusOf = (mounts: ReadonlyMap<string, RadioMount>): string =>
  JSON.stringify([...mounts].map(([mount, { name, mediaType, kbps, title, since, bytes, listeners }]) => ({ mount, name, mediaType, kbps, title, since: since.toISOString(), bytes, listeners })));
