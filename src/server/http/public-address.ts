import { SCHEME } from '../access/caller-address';

/** Where people outside reach the product: PUBLIC_URL, or the address this request used. */
export function publicAddress(headers: Headers): string {
  if (process.env.PUBLIC_URL) return process.env.PUBLIC_URL.replace(/\/+$/, '');
  return `${headers.get(SCHEME) === 'https' ? 'https' : 'http'}://${headers.get('host') ?? 'localhost'}`;
}

/** Whether the browser reached us by TLS: cookies are then for TLS only. */
export const isSecure = (request: Request): boolean => publicAddress(request.headers).startsWith('https:');
