import { NextResponse, type NextRequest } from 'next/server';

/**
 * The content security policy of every page: scripts of our own with this answer's nonce, and
 * WebAssembly for the engine and the codecs; styles may be written by the interface library; nothing
 * comes from or goes to another place, and nobody may frame us.
 */
export function proxy(request: NextRequest) {
  const nonce = crypto.randomUUID().replaceAll('-', '');
  // The development server's live reload evaluates code.
  const evaluation = process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : '';
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'${evaluation}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "media-src 'self' blob: mediastream:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

// Files that never change need none; route handlers answer data, which a browser does not run.
export const config = { matcher: '/((?!_next/static|_next/image|api/|practice/|icon.svg).*)' };
