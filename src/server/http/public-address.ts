import { SCHEME } from '../access/caller-address';

/** Where people outside reach the product: PUBLIC_URL, LAN_URL in a house, or the address this request used. */
export function publicAddress(headers: Headers): string {
  const outside = process.env.PUBLIC_URL ?? process.env.LAN_URL;
  if (outside) return outside.replace(/\/+$/, '');
  return `${headers.get(SCHEME) === 'https' ? 'https' : 'http'}://${headers.get('host') ?? 'localhost'}`;
}

/** Whether the browser reached us by TLS: cookies are then for TLS only. */
export const isSecure = ({ headers }: Request): boolean => headers.get(SCHEME) === 'https' || (process.env.PUBLIC_URL ?? '').startsWith('https:');
