import { HttpError } from './errors';

const LOOPBACK_NAMES = new Set(['127.0.0.1', 'localhost', '[::1]']);

/**
 * Until there are accounts the host is whoever sits at this machine: the server listens on
 * loopback, the request must name it so (a page elsewhere cannot, whatever its DNS says), and a
 * change must come from our own pages.
 */
export function requireHost(request: Request): void {
  const host = request.headers.get('host') ?? '';
  const name = host.replace(/:\d+$/, '');
  if (!LOOPBACK_NAMES.has(name)) {
    throw new HttpError(403, 'not-this-machine', 'This desk answers only on the machine it runs on.');
  }
  if (request.method === 'GET' || request.method === 'HEAD') return;
  const origin = request.headers.get('origin');
  if (origin === null || URL.parse(origin)?.host !== host) {
    throw new HttpError(403, 'other-origin', 'Changes are taken only from this product’s own pages.');
  }
}
