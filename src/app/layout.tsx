import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Providers } from '../ui/parts/providers';
import './globals.css';

/** Each answer names its scripts anew (src/proxy.ts), so no page is made beforehand. */
export const dynamic = 'force-dynamic';

export const metadata: Metadata = {
  title: { default: 'Wairetic', template: '%s · Wairetic' },
  description: 'A restoration bench for family and archive media.',
};

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en-GB" suppressHydrationWarning>
      <body className="flex h-screen min-w-[1100px] flex-col overflow-hidden">
        <Providers>{children}</Providers>
      </body>
    </html>
  );
}
