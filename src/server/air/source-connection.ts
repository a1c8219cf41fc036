import http from 'node:http';
import https from 'node:https';
import type { LookupFunction } from 'node:net';
import { mediaTypeOf, type StationSettings } from '@/core/air/station';
import type { Target } from './target';

/** A server that says nothing for so long is not there, ms. */
const CONNECT_WITHIN_MS = 10_000;
/** One that does not say that it is ready for the body may be sent it all the same (RFC 9110, 10.1.1), ms. */
const CONTINUE_AFTER_MS = 2000;
/** Bytes that may wait in the connection, as time at the stream's rate, ms: beyond it the server has stopped reading. */
const MOST_WAITING_MS = 8000;

/** What went wrong, and whether trying again can help. */
export class SourceRefused extends Error {
  readonly final: boolean;
  constructor(message: string, final: boolean) {
    super(message);
    this.final = final;
  }
}

/** A stream that a server takes: HTTP PUT with basic authentication and headers that describe it. */
export interface SourceConnection {
  /** @returns false when the server has stopped reading */
  write(bytes: Uint8Array): boolean;
  /** Bytes that wait in the connection. */
  waiting(): number;
  /** Ends the stream in order. */
  end(): void;
  /** Resolves with the reason when the connection is over. */
  readonly over: Promise<SourceRefused>;
}

/** Names are looked up once: the connection goes to that address and to no other. */
const pinned = ({ ip, family }: Target): LookupFunction => (_, options, found) => (options.all ? found(null, [{ address: ip, family }]) : found(null, ip, family));

export const basicAuthorization = (user: string, password: string): string => `Basic ${Buffer.from(`${user}:${password}`, 'utf8').toString('base64')}`;

/** A request to a target, at its address, with TLS verified where the address has it, and no redirect followed. */
export function requestTo(target: Target, options: http.RequestOptions): http.ClientRequest {
  const { protocol, hostname, port } = target.url;
  const send = protocol === 'https:' ? https.request : http.request;
  return send({ protocol, hostname: hostname.replace(/^\[|\]$/g, ''), port, lookup: pinned(target), agent: false, ...options });
}

/** Header values are bytes; names with other letters go as UTF-8, as such servers read them. */
const headerText = (text: string): string => Buffer.from(text, 'utf8').toString('latin1');

/** @throws {SourceRefused} */
export function openSource(target: Target, station: StationSettings, password: string): Promise<SourceConnection> {
  const { coding } = station;
  const described = Object.entries({ name: station.name, description: station.about, genre: station.genre, url: station.homepage }).filter(([, text]) => text !== '');
  const request = requestTo(target, {
    method: 'PUT',
    path: target.url.pathname,
    headers: {
      authorization: basicAuthorization(station.user, password),
      'content-type': mediaTypeOf(coding),
      'user-agent': 'Brisk Lantern',
      ...Object.fromEntries(described.map(([name, text]) => [`ice-${name}`, headerText(text)])),
      'ice-public': station.listed ? '1' : '0',
      'ice-audio-info': `bitrate=${coding.kbps};samplerate=48000;channels=2`,
    },
  });
  // A stream has no length. Plain, it is over when the connection is; Node then writes no pieces. Given from the beginning, this
  // header would send all others at once.
  if (!station.chunked) request.removeHeader('transfer-encoding');
  request.setHeader('expect', '100-continue');
  request.setNoDelay(true);
  const mostWaiting = (MOST_WAITING_MS * coding.kbps) / 8;
  let tell: (reason: SourceRefused) => void = () => undefined;
  const over = new Promise<SourceRefused>((resolve) => (tell = resolve));
  let endedByUs = false;
  request.on('response', (response) => {
    response.resume();
    // Some servers say that all is well while the stream goes on.
    if ((response.statusCode ?? 0) >= 200 && (response.statusCode ?? 0) < 300) return;
    tell(refusedBy(response.statusCode ?? 0, response.statusMessage ?? ''));
    request.destroy();
  });
  request.on('error', (error: NodeJS.ErrnoException) => tell(broken(error)));
  request.on('close', () => tell(new SourceRefused(endedByUs ? '' : 'The server closed the connection.', false)));
  const connection: SourceConnection = {
    write(bytes) {
      request.write(bytes);
      return connection.waiting() < mostWaiting;
    },
    waiting: () => request.socket?.writableLength ?? request.writableLength,
    end() {
      endedByUs = true;
      request.end();
      // Plain, the server learns of the end by the connection's.
      request.socket?.end();
    },
    over,
  };
  return new Promise((resolve, reject) => {
    const late = setTimeout(() => {
      tell(new SourceRefused('The server does not answer.', false));
      request.destroy();
    }, CONNECT_WITHIN_MS);
    const begin = () => {
      clearTimeout(late);
      resolve(connection);
    };
    request.once('continue', begin);
    request.once('socket', (socket) => socket.once(target.url.protocol === 'https:' ? 'secureConnect' : 'connect', () => setTimeout(begin, CONTINUE_AFTER_MS)));
    void over.then((reason) => {
      clearTimeout(late);
      reject(reason);
    });
    request.flushHeaders();
  });
}

function refusedBy(status: number, words: string): SourceRefused {
  if (status === 401) return new SourceRefused('The server did not take the user name or the password.', true);
  if (status >= 300 && status < 400) return new SourceRefused('The server wants the stream somewhere else. Nothing is sent to an address that was not chosen here: enter the new one.', true);
  if (status === 403 || status === 409) return new SourceRefused(`The server refused the stream (${status} ${words}): the mount may be in use by somebody else, or not allowed.`, false);
  if (status === 415) return new SourceRefused('The server does not take this coding. Choose the other one.', true);
  return new SourceRefused(`The server refused the stream (${status} ${words}).`, status >= 400 && status < 500);
}

function broken(error: NodeJS.ErrnoException): SourceRefused {
  const code = error.code ?? '';
  if (code === 'ECONNREFUSED') return new SourceRefused('Nothing answers at this address and port.', false);
  if (/CERT|TLS|SSL|SELF_SIGNED|ALTNAME|VERIFY/.test(code)) return new SourceRefused(`The server’s certificate is not to be trusted (${code}). Nothing was sent.`, true);
  if (code === 'HPE_INVALID_CONSTANT' || code.startsWith('HPE_')) return new SourceRefused('What answers there does not speak HTTP.', true);
  return new SourceRefused(`The connection to the server broke (${code || error.message}).`, false);
}
