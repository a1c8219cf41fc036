import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by `npm test`, once and for everything; a start should not wait for it.
  typescript: { ignoreBuildErrors: true },
  serverExternalPackages: ['pg', 'pino'],
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
        ],
      },
    ];
  },
};

export default config;
