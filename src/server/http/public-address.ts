/** Where people outside reach the product: PUBLIC_URL, or the address this request used. */
export function publicAddress(headers: Headers): string {
  if (process.env.PUBLIC_URL) return process.env.PUBLIC_URL.replace(/\/+$/, '');
  const secure = headers.get('x-forwarded-proto') === 'https';
  return `${secure ? 'https' : 'http'}://${headers.get('host') ?? 'localhost'}`;
}

/** Whether the browser reached us by TLS: cookies are then for TLS only. */
export const isSecure = (request: Request): boolean => publicAddress(request.headers).startsWith('https:');
