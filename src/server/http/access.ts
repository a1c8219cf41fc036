import { HttpError } from './errors';

/** What holds a place while it is open must be asked for by our own pages: no link of another page leads there. */
export function requireOwnPage(request: Request): void {
  const site = request.headers.get('sec-fetch-site');
  // A browser that does not say is no browser that follows links of other pages with our cookies unasked.
  if (site !== null && site !== 'same-origin') throw new HttpError(403, 'other-origin', 'This is for the product’s own pages only.');
}

/** A change must come from our own pages: the browser says from which page it is asked. */
export function requireOwnOrigin(request: Request): void {
  if (request.method === 'GET' || request.method === 'HEAD') return;
  const origin = request.headers.get('origin');
  if (origin === null || URL.parse(origin)?.host !== request.headers.get('host')) {
    throw new HttpError(403, 'other-origin', 'Changes are taken only from this product’s own pages.');
  }
}
