import { HttpError } from './errors';

/** A change must come from our own pages: the browser says from which page it is asked. */
export function requireOwnOrigin(request: Request): void {
  if (request.method === 'GET' || request.method === 'HEAD') return;
  const origin = request.headers.get('origin');
  if (origin === null || URL.parse(origin)?.host !== request.headers.get('host')) {
    throw new HttpError(403, 'other-origin', 'Changes are taken only from this product’s own pages.');
  }
}
