import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by `npm test`, once and for everything; a start should not wait for it.
  typescript: { ignoreBuildErrors: true },
  serverExternalPackages: ['pg', 'pino', '@node-rs/argon2'],
  // Browsers ask for it by this name where a page has not told them another yet.
  async rewrites() {
    return [{ source: '/favicon.ico', destination: '/icon.svg' }];
  },
  async headers() {
    return [
      {
        source: '/:path*',
        headers: [
          // These three make the page cross-origin isolated: shared memory between page, audio
          // thread and recorder exists only then.
          { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
          { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'Referrer-Policy', value: 'same-origin' },
          { key: 'X-Frame-Options', value: 'DENY' },
          { key: 'Permissions-Policy', value: 'camera=(), geolocation=(), payment=(), usb=(), microphone=(self), display-capture=(self), midi=(self), speaker-selection=(self)' },
          { key: 'Strict-Transport-Security', value: 'max-age=31536000' },
        ],
      },
    ];
  },
};

export default config;
