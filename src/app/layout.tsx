import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/bricolage-grotesque';
import type { Metadata, Viewport } from 'next';
import { cookies } from 'next/headers';
import type { ReactNode } from 'react';
import { Provider } from '@/ui/theme/provider';

export const metadata: Metadata = {
  title: { default: 'Brisk Lantern', template: '%s · Brisk Lantern' },
  description: 'Mix-minus returns, shared sounds and isolated tracks for remote podcast interviews.',
};

export const viewport: Viewport = { width: 'device-width', initialScale: 1 };

export default async function RootLayout({ children }: { children: ReactNode }) {
  const theme = (await cookies()).get('theme')?.value === 'day' ? 'light' : 'dark';
  return (
    <html lang="en" className={theme} style={{ colorScheme: theme }}>
      <body>
        <Provider>{children}</Provider>
      </body>
    </html>
  );
}
