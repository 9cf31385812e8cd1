'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { Tooltip } from 'radix-ui';
import { useEffect, useState, type ReactNode } from 'react';
import { Toaster } from 'sonner';
import { recallAppearance } from './appearance';

export function Providers({ children }: { children: ReactNode }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } } }));
  useEffect(recallAppearance, []);
  return (
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={500}>{children}</Tooltip.Provider>
      <Toaster
        position="bottom-right"
        toastOptions={{ style: { background: 'var(--sheet)', color: 'var(--ink)', border: '1px solid var(--rule-2)', borderRadius: 0 } }}
      />
    </QueryClientProvider>
  );
}
