import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactNode } from 'react';

/** Renders a part of the page as it stands in the application: with its looks, a client for questions, and no motion. */
export function show(part: ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <MantineProvider env="test">
      <QueryClientProvider client={client}>{part}</QueryClientProvider>
    </MantineProvider>,
  );
}
